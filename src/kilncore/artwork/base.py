"""What an art kind is, and how one is added.

An art kind is one module: a frozen settings model with its `kind` that says how large it is
(`box_px`), where its frame lies (`frame_px`), and gives a `Drawing` of itself under a map. Register
it with `@art(...)` and name the module in `artwork/__init__.py`. Its form is drawn from its
settings.
"""

from dataclasses import dataclass

import numpy as np

from kilncore.geometry.affine import Affine
from kilncore.geometry.box import Box
from kilncore.graph.protocols import NodeReader
from kilncore.model.base import Model
from kilncore.model.registry import Registry


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

    def lacking(self, reader: NodeReader, box: Box) -> list[Box]:
        """What has to be waited for before a box is drawn: parts that a child process draws."""
        return []

    def fetch(self, reader: NodeReader, part: Box) -> None:
        """Wait for one of them."""


class Art(Model):
    """The settings of an art kind. Lengths are in document px before placement; `piece_height` is
    what % is of.
    """

    kind: str

    def box_px(self, ppi: float, piece_height: float) -> tuple[float, float]:
        """Width and height of its box."""
        raise NotImplementedError

    def frame_px(self, ppi: float, piece_height: float) -> tuple[float, float, float]:
        """The origin of its frame from the middle of its box, and the frame's unit: its middle and
        its height.
        """
        return 0.0, 0.0, self.box_px(ppi, piece_height)[1]

    def frame_shift(self, earlier: "Art") -> tuple[float, float]:
        """By how many units the frame must move so that what an edit of `earlier` left of it keeps
        its wear.
        """
        return 0.0, 0.0

    def middle_shift(self, earlier: "Art", ppi: float, piece_height: float) -> tuple[float, float]:
        """By how many px of its own an edit of `earlier` moved the middle of its box, so that what
        is left of it stays where it lies.
        """
        return 0.0, 0.0

    def kept_shift(self, earlier: "Art", ppi: float, piece_height: float) -> tuple | None:
        """By how many px of its own what is left of `earlier` has moved from the middle: edits let
        it move by whole px of the piece, so that its wear is the same to the bit. None if nothing
        has to be.
        """
        return None

    def check(self) -> None:
        """KilnError if it cannot be drawn."""

    def drawing(self, placed: Affine, scale: float, ppi: float, piece_height: float) -> Drawing:
        """Itself, drawn. placed : document px from the middle of its box to output px. scale :
        output px per document px.
        """
        raise NotImplementedError

    def notes(self) -> list[str]:
        """What of it cannot be shown as it is, in words."""
        return []


@dataclass(frozen=True)
class ArtKind:
    """title, sentence : of its sheet."""

    name: str
    title: str
    sentence: str
    settings: type[Art]


ARTS = Registry("art")
art = ARTS.decorator(ArtKind, "settings")


def extent_of(points: np.ndarray) -> Box:
    """The px that (N, 2) points lie in, and one more around them."""
    (left, top), (right, bottom) = (
        np.floor(points.min(0)).astype(int),
        np.ceil(points.max(0)).astype(int),
    )
    return Box(int(left) - 1, int(top) - 1, int(right) + 1, int(bottom) + 1)
