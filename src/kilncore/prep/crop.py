"""Crop: a rectangle of the picture is left."""

from typing import Literal

import numpy as np
from pydantic import model_validator

from kilncore.model.setting import setting
from kilncore.prep.base import PICTURE, TEXTURE, Copy, Operation, operation

LEAST = 0.01  # of a side that is left


@operation(
    "crop",
    title="Crop",
    sentence="Only a rectangle of the picture is left.",
    serves=(PICTURE, TEXTURE),
)
class Crop(Operation):
    """left, top, right, bottom : shares of the picture, from its upper left."""

    kind: Literal["crop"] = "crop"
    left: float = setting(0.0, "Crop", "Drag its edges.", "crop", ge=0, le=1)
    top: float = setting(0.0, "Top", "", "crop", ge=0, le=1)
    right: float = setting(1.0, "Right", "", "crop", ge=0, le=1)
    bottom: float = setting(1.0, "Bottom", "", "crop", ge=0, le=1)

    @model_validator(mode="after")
    def _something_left(self):
        if self.right - self.left < LEAST or self.bottom - self.top < LEAST:
            raise ValueError("a crop must leave something of the picture")
        return self

    def _edges(self, width: int, height: int) -> tuple[int, int, int, int]:
        left = min(round(self.left * width), width - 1)
        top = min(round(self.top * height), height - 1)
        right, bottom = round(self.right * width), round(self.bottom * height)
        return left, top, max(right, left + 1), max(bottom, top + 1)

    def size(self, width: int, height: int) -> tuple[int, int]:
        """Of the rectangle, whole px."""
        left, top, right, bottom = self._edges(width, height)
        return right - left, bottom - top

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """The rectangle."""
        left, top, right, bottom = self._edges(planes.shape[2], planes.shape[1])
        return planes[:, top:bottom, left:right]

    def middle(self) -> tuple[float, float]:
        """Of the rectangle."""
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2

    def wraps_after(self, wraps: bool) -> bool:
        """Cut, it does not repeat any more."""
        return False

    def told(self) -> str:
        """What is left."""
        return f"{self.right - self.left:.0%} by {self.bottom - self.top:.0%}".replace("%", " %")
