"""Clean a patch: what is painted over is refilled from the rest of the texture."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.pixels.luma import luminance_rows
from kilncore.pixels.stored import deepened, held_to_alpha
from kilncore.prep.base import Copy, Operation, operation
from kilncore.prep.refilling import refilled
from kilncore.system.opencv import cv2

MOST_PATCHES, MOST_POINTS = 24, 80
LARGEST = 0.4  # of the texture's area: what is left must be able to fill it
Share = Annotated[float, Field(ge=-0.2, le=1.2)]


class Patch(Model):
    """points : of a stroke, in shares of the width and the height. width : of the stroke, a share
    of the longer side. another : which of the places that fit it is filled from, 0 the best.
    """

    points: Annotated[tuple[tuple[Share, Share], ...], Field(min_length=1, max_length=MOST_POINTS)]
    width: float = Field(0.03, gt=0, le=0.5)
    another: int = Field(0, ge=0, le=40)

    def paint(self, out: np.ndarray) -> np.ndarray:
        """Put 1 into (H, W) uint8 where it was painted."""
        height, width = out.shape
        thick = max(1, round(self.width * max(width, height)))
        points = np.array(self.points, np.float64) * (width, height) - 0.5
        line = np.clip(np.rint(points * 16), -(2**24), 2**24).astype(np.int32)
        cv2.polylines(out, [line.reshape(-1, 1, 2)], False, 1, thick, cv2.LINE_8, 4)
        for x, y in line:
            cv2.circle(out, (int(x), int(y)), thick * 8, 1, -1, cv2.LINE_8, 4)
        return out

    def mask(self, width: int, height: int) -> np.ndarray:
        """(H, W) uint8: 1 where it was painted."""
        return self.paint(np.zeros((height, width), np.uint8))


@operation(
    "clean",
    title="Clean a patch",
    sentence="Paint over a stain: it is refilled from the rest.",
    group="Repair",
)
class Clean(Operation):
    """patches : refilled one after the other."""

    kind: Literal["clean"] = "clean"
    patches: Annotated[tuple[Patch, ...], Field(max_length=MOST_PATCHES)] = setting(
        (), "Patches", "Paint on the picture.", "patches", reload=True
    )

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """Refilled. A patch that is too large for what is left stays as it is."""
        if not self.patches:
            return planes
        _, height, width = planes.shape
        painted = np.zeros((height, width), np.uint8)
        for patch in self.patches:
            patch.paint(painted)
        out = deepened(planes)
        out = out.copy() if out is planes else out
        for patch in self.patches:
            mask = patch.mask(width, height)
            if 0 < mask.mean() <= LARGEST:
                tones = luminance_rows(out)
                refilled(out, tones, mask, painted, patch.another)
        return held_to_alpha(out)

    def told(self) -> str:
        """How many."""
        count = len(self.patches)
        return f"{count or 'no'} patch{'' if count == 1 else 'es'}"

    def notes(self, width: int, height: int, counts: np.ndarray | None) -> tuple[str, ...]:
        """Patches that are too large."""
        scale = min(1.0, 512 / max(width, height))
        size = max(1, round(width * scale)), max(1, round(height * scale))
        large = [n + 1 for n, one in enumerate(self.patches) if one.mask(*size).mean() > LARGEST]
        return tuple(
            f"Patch {n} is larger than what is left to fill it from, and stays as it was: paint "
            "a smaller one, or crop it away."
            for n in large
        )
