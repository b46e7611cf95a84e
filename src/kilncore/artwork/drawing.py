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

    def whole_px_from(self, other: "Drawing") -> "Drawing":
        """Itself, moved by less than a px so that it lies whole px away from another of the same
        art, and need not be drawn anew; as it is where that would be no quicker.
        """
        return self

    def lacking(self, reader: Any, box: Box) -> list[Box]:
        """What has to be waited for before a box is drawn: parts that a child process draws.
        reader : has the `cache` in which they are kept.
        """
        return []

    def fetch(self, reader: NodeReader, part: Box) -> None:
        """Wait for one of them."""


def extent_of(points: np.ndarray) -> Box:
    """The px that (N, 2) points lie in, and one more around them."""
    (left, top), (right, bottom) = (
        np.floor(points.min(0)).astype(int),
        np.ceil(points.max(0)).astype(int),
    )
    return Box(int(left) - 1, int(top) - 1, int(right) + 1, int(bottom) + 1)
