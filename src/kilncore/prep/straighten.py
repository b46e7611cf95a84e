"""Straighten: turned by a few degrees, and cut to the largest upright rectangle of its own shape
that lies within.
"""

import math
from typing import Literal

import numpy as np

from kilncore.model.setting import setting
from kilncore.pixels.stored import deep, full_of, held_to_alpha, put
from kilncore.prep.base import Copy, Operation, operation
from kilncore.system.opencv import cv2


@operation("straighten", title="Straighten", sentence="Turned a little, and cut upright again.")
class Straighten(Operation):
    """angle_deg : clockwise."""

    kind: Literal["straighten"] = "straighten"
    angle_deg: float = setting(
        0.0, "Turn by", "", "slider", unit="°", soft=(-15, 15), ge=-45, le=45, step=0.1
    )

    def size(self, width: int, height: int) -> tuple[int, int]:
        """Of the rectangle that is left."""
        share = _share(width, height, self.angle_deg)
        return max(1, int(width * share)), max(1, int(height * share))

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """Turned about its middle, by cubic interpolation."""
        _, height, width = planes.shape
        wide, tall = self.size(width, height)
        if not self.angle_deg:
            return planes
        angle = math.radians(self.angle_deg)
        cos, sin = math.cos(angle), math.sin(angle)
        # pixel centres are whole numbers there: the middle lies half a px earlier
        x, y = (wide - 1) / 2, (tall - 1) / 2
        back = np.array(
            [
                [cos, sin, (width - 1) / 2 - cos * x - sin * y],
                [-sin, cos, (height - 1) / 2 + sin * x - cos * y],
            ]
        )
        out = np.empty((len(planes), tall, wide), deep(planes.dtype))
        unit = np.float32(1 / full_of(planes))
        for plane, made in zip(planes, out, strict=True):
            turned = cv2.warpAffine(
                np.ascontiguousarray(plane),
                back,
                (wide, tall),
                flags=cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP,
                borderMode=cv2.BORDER_REFLECT,
            )
            put(turned * unit, made)
        return held_to_alpha(out)

    def wraps_after(self, wraps: bool) -> bool:
        """Cut, it does not repeat any more."""
        return wraps and not self.angle_deg

    def told(self) -> str:
        """How far."""
        return f"{self.angle_deg:.3g}° clockwise"


def _share(width: int, height: int, angle_deg: float) -> float:
    """Of its sides that the largest upright rectangle of the same shape within it has."""
    sin, cos = abs(math.sin(math.radians(angle_deg))), abs(math.cos(math.radians(angle_deg)))
    return min(width / (width * cos + height * sin), height / (width * sin + height * cos))
