"""Whole-pixel rectangles on the output grid."""

import math
from typing import NamedTuple

import numpy as np


class Box(NamedTuple):
    """Whole px from (left, top) up to but without (right, bottom)."""

    left: int
    top: int
    right: int
    bottom: int

    @property
    def width(self) -> int:
        """Px across, 0 or more."""
        return max(self.right - self.left, 0)

    @property
    def height(self) -> int:
        """Px down, 0 or more."""
        return max(self.bottom - self.top, 0)

    @property
    def empty(self) -> bool:
        """Whether no pixel is inside."""
        return self.right <= self.left or self.bottom <= self.top

    def expanded(self, margin: int) -> "Box":
        """Larger by so many px on every side."""
        return Box(self.left - margin, self.top - margin, self.right + margin, self.bottom + margin)

    def moved(self, across: int, down: int) -> "Box":
        """The same size elsewhere."""
        return Box(self.left + across, self.top + down, self.right + across, self.bottom + down)

    def intersection(self, other: "Box") -> "Box":
        """What is in both."""
        return Box(
            max(self.left, other.left),
            max(self.top, other.top),
            min(self.right, other.right),
            min(self.bottom, other.bottom),
        )

    def union(self, other: "Box") -> "Box":
        """The least box that holds both."""
        if self.empty or other.empty:
            return other if self.empty else self
        return Box(
            min(self.left, other.left),
            min(self.top, other.top),
            max(self.right, other.right),
            max(self.bottom, other.bottom),
        )


def crop(pixels: np.ndarray, have: Box, want: Box):
    """The part `want` of (..., H, W) pixels that cover `have`."""
    return pixels[
        ...,
        want.top - have.top : want.bottom - have.top,
        want.left - have.left : want.right - have.left,
    ]


def put(pixels: np.ndarray, have: Box, here: Box, part: np.ndarray) -> None:
    """Write `part` into (..., H, W) pixels that cover `have`, at `here`."""
    crop(pixels, have, here)[...] = part


FAR = 2**40
EVERYWHERE = Box(-FAR, -FAR, FAR, FAR)
NOWHERE = Box(0, 0, 0, 0)


def scaled(x: float, y: float, width: float, height: float, scale: float) -> Box:
    """The output pixels that a rectangle in document px touches at that scale: widened outwards."""
    eps = 1e-9
    return Box(
        math.floor(x * scale + eps),
        math.floor(y * scale + eps),
        math.ceil((x + width) * scale - eps),
        math.ceil((y + height) * scale - eps),
    )


def tiles_over(box: Box, tile: tuple[int, int]) -> list[Box]:
    """The fixed grid's tiles that a box touches, row by row."""
    if box.empty:
        return []
    wide, tall = tile
    return [
        Box(column * wide, row * tall, (column + 1) * wide, (row + 1) * tall)
        for row in range(box.top // tall, -(-box.bottom // tall))
        for column in range(box.left // wide, -(-box.right // wide))
    ]


def pixel_at(x: float, y: float) -> Box:
    """The one that a point lies in; points beyond a million are none that are drawn."""
    left, top = (math.floor(min(max(one, -1e6), 1e6)) for one in (x, y))
    return Box(left, top, left + 1, top + 1)
