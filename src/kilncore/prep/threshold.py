"""Threshold: black below a tone, white above it, with a soft edge."""

from typing import Literal

import numpy as np

from kilncore.model.setting import setting
from kilncore.prep.bands import through
from kilncore.prep.base import Copy, Operation, operation
from kilncore.prep.grey import one_tone
from kilncore.prep.tone_counts import spread
from kilncore.solve.points import otsu, taken

LEAST_SOFT = 1e-4
FLAT = 0.02  # of all tones: what spans less has hardly any contrast
NO_CONTRAST = (
    "Hardly any contrast: its tones lie within 2 % of each other. Even out the contrast, or use "
    "another channel to grey."
)


@operation(
    "threshold", title="Threshold", sentence="Black below a tone, white above.", group="Tones"
)
class Threshold(Operation):
    """automatic : at the tone that parts dark from light best (Otsu 1979). soft : how many tones
    its edge is wide.
    """

    kind: Literal["threshold"] = "threshold"
    reads_tones = True
    automatic: bool = setting(True, "Find the tone by itself", "", "toggle", reload=True)
    at: float = setting(
        0.5, "At", "", "slider", factor=255, soft=(0, 255), ge=0, le=1, step=1, if_="!automatic"
    )
    soft: float = setting(
        0.04, "Soft edge", "", "slider", factor=255, soft=(0, 64), ge=0, le=1, step=1
    )

    @property
    def parts_within(self) -> float:
        """Its soft edge."""
        return self.soft

    def solved(self, counts: np.ndarray) -> "Threshold":
        """With its tone found."""
        if not self.automatic:
            return self
        return self.model_copy(update={"automatic": False, "at": otsu(counts)})

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """(1, H, W)."""
        wide = max(self.soft, LEAST_SOFT)
        return through(one_tone(planes), lambda tones: (tones - self.at) / wide + 0.5)

    def told(self) -> str:
        """Where."""
        return "found by itself" if self.automatic else f"at {round(255 * self.at)}"

    def notes(self, width: int, height: int, counts: np.ndarray | None) -> tuple[str, ...]:
        """Where it lies, and how much becomes black."""
        if counts is None:
            return ()
        at = self.solved(counts).at
        wide = max(self.soft, LEAST_SOFT)
        sentences = (
            f"At {round(255 * at)}: {100 * taken(counts, at - wide / 2, wide):.1f} % black.",
        )
        return (*sentences, NO_CONTRAST) if spread(counts) < FLAT else sentences
