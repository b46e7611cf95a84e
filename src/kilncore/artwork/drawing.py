"""Art under a map, ready to be drawn."""

from typing import Any

import numpy as np

from kilncore.geometry.box import Box
from kilncore.graph.protocols import NodeReader


class Drawing:
    """Art under a map, ready to be drawn. Immutable.

    key : a hash over all that its pixels depend on. extent : the box beyond which it is
    transparent. tint : the one straight colour of art that has no other; otherwise None.
    """

    key: str
    extent: Box
    tint: tuple[float, ...] | None = None

    def planes(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(1, H, W) alpha of art of one tint, else (4, H, W) premultiplied, float32, 0..1. It is
        only asked for tiles of the fixed grid. reader : has `assets`, and keeps what is made once
        by `once(key, make)`."""
        raise NotImplementedError

    unit: float = 1.0  # output px per document px

    @property
    def split(self) -> "Split":
        """(what lies beneath, what a fill takes the place of, what lies above) of art of one
        colour; None where there is none.
        """
        return None, self, None

    def whole_px_from(self, other: "Drawing") -> "Drawing":
        """Itself, moved by less than a px so that it lies whole px away from another of the same
        art, and need not be drawn anew; as it is where that would be no quicker.
        """
        return self

    def moved_from(self, other: "Drawing") -> tuple[float, float] | None:
        """Output px across and down from another to this one, where nothing but its place differs;
        None where more does, or where that cannot be told.
        """
        return None

    def lacking(self, reader: Any, box: Box) -> list[Box]:
        """What has to be waited for before a box is drawn: parts that a child process draws.
        reader : has the `cache` in which they are kept.
        """
        return []

    def fetch(self, reader: NodeReader, part: Box) -> None:
        """Wait for one of them."""


Split = tuple[Drawing | None, Drawing | None, Drawing | None]


def extent_of(points: np.ndarray) -> Box:
    """The px that (N, 2) points lie in, and one more around them."""
    (left, top), (right, bottom) = (
        np.floor(points.min(0)).astype(int),
        np.ceil(points.max(0)).astype(int),
    )
    return Box(int(left) - 1, int(top) - 1, int(right) + 1, int(bottom) + 1)


def moved_apart(one: Any, other: Any) -> tuple[float, float] | None:
    """`Drawing.moved_from` of two drawings that have an `art` under a `matrix`."""
    same = type(one) is type(other) and one.art == other.art
    if not same or one.matrix[:4] != other.matrix[:4]:
        return None
    return one.matrix[4] - other.matrix[4], one.matrix[5] - other.matrix[5]
