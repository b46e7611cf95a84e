"""A picture: a file of pixels that stays as it came, prepared by a chain of operations, placed.

Its box is that of the prepared picture; one px of it is one document px at 100 %. Its frame stays
that of the whole picture, so that cropping leaves wear and strokes where they are. Drafts are
prepared from a smaller copy, no larger than they show; the exact picture from all of it.
"""

from dataclasses import dataclass, field
from itertools import pairwise
from typing import Literal

import numpy as np
from pydantic import Field

from kilncore.artwork.base import Art, art
from kilncore.artwork.coverage import coverage
from kilncore.artwork.drawing import Drawing, extent_of, moved_apart
from kilncore.artwork.laid import fineness
from kilncore.geometry.affine import Affine
from kilncore.geometry.box import Box
from kilncore.graph.keys import key_of
from kilncore.graph.protocols import NodeReader
from kilncore.model.files import PictureHash
from kilncore.model.setting import setting
from kilncore.perspective.projection import Projection
from kilncore.prep.chain import Chain, draft_level, meaning, middle_of, size_of
from kilncore.prep.crop import Crop

MOST_SIDE = 100_000


@art("picture", title="Picture", sentence="Pixels as they came, prepared live.")
class PictureArt(Art):
    """hash : of the file. width, height : its own, upright, in px. chain : how it is prepared."""

    kind: Literal["picture"] = "picture"
    hash: PictureHash
    width: int = Field(gt=0, le=MOST_SIDE)
    height: int = Field(gt=0, le=MOST_SIDE)
    chain: Chain = setting((), "Preparation", "", "chain", reload=True)

    def box_px(self, ppi: float, piece_height: float) -> tuple[float, float]:
        """The size of the prepared picture."""
        width, height = size_of(self.chain, self.width, self.height)
        return float(width), float(height)

    def frame_px(self, ppi: float, piece_height: float) -> tuple[float, float, float]:
        """The middle and the height of the whole picture, whatever is cropped away."""
        x, y = middle_of(self.chain, self.width, self.height)
        whole = tuple(op for op in self.chain if not isinstance(op, Crop))
        return -x, -y, float(size_of(whole, self.width, self.height)[1])

    def middle_shift(self, earlier: Art, ppi: float, piece_height: float) -> tuple[float, float]:
        """By how many px a new crop moves the middle of the box."""
        if not isinstance(earlier, PictureArt) or _uncropped(self) != _uncropped(earlier):
            return 0.0, 0.0
        before, after = (middle_of(one.chain, self.width, self.height) for one in (earlier, self))
        return after[0] - before[0], after[1] - before[1]

    def drawing(self, placed: Affine, scale: float, ppi: float, piece_height: float) -> Drawing:
        """The prepared picture, sampled."""
        level = draft_level(self.chain, self.width, self.height, scale, placed.scale)
        return PictureDrawing(self, placed.matrix, level)

    def laid(
        self,
        placed: Affine,
        projection: Projection,
        scale: float,
        ppi: float,
        piece_height: float,
    ) -> Drawing:
        """The prepared picture, sampled where it lies."""
        width, height = self.box_px(ppi, piece_height)
        corners = [placed.corners(width, height)[n] for n in (0, 2, 3, 1)]
        fine = fineness(corners, width * height, projection)
        level = draft_level(self.chain, self.width, self.height, scale, placed.scale * fine)
        return PictureDrawing(self, placed.matrix, level, projection)


def _uncropped(picture: PictureArt) -> tuple:
    return picture.hash, meaning(tuple(op for op in picture.chain if not isinstance(op, Crop)))


@dataclass(frozen=True)
class PictureDrawing(Drawing):
    """matrix : px of the prepared picture, from its middle, to output px. level : how often the
    copy is halved that it is drawn from. projection : from flat output px to output px.
    """

    art: PictureArt
    matrix: tuple[float, ...]
    level: int
    projection: Projection | None = None
    key: str = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "extent", extent_of(self._edges.reshape(-1, 2)))
        chain = meaning(self.art.chain)
        placed = self.matrix, self.level, self.projection
        object.__setattr__(self, "key", key_of("picture", self.art.hash, chain, *placed))

    @property
    def _edges(self) -> np.ndarray:
        """(N, 4) edges around it, as it lies."""
        corners = Affine(*self.matrix).corners(*self.art.box_px(0, 0))
        ring = [corners[n] for n in (0, 1, 3, 2, 0)]
        edges = np.array([(*one, *other) for one, other in pairwise(ring)])
        return self.projection.edges(edges) if self.projection else edges

    def moved_from(self, other: Drawing) -> tuple[float, float] | None:
        """Where nothing but its place on the flat page differs."""
        if self.projection or getattr(other, "projection", None):
            return None
        return moved_apart(self, other)

    def planes(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(4, H, W) premultiplied."""
        texture = reader.assets.prepared(self.art.hash, self.art.chain, self.level)
        a, b, c, d, e, f = self.matrix
        whole = a * d - b * c
        back = (d / whole, -b / whole, -c / whole, a / whole)
        matrix = (*back, -(back[0] * e + back[2] * f), -(back[1] * e + back[3] * f))
        size = box.width, box.height
        sampled, _ = texture.sample(matrix, box.left, box.top, *size, "mirror", self.projection)
        out = np.empty((4, box.height, box.width), np.float32)
        out[3] = np.clip(sampled[3], 0, 1) if len(sampled) == 4 else 1
        np.clip(sampled[:3], 0, out[3], out=out[:3])
        out *= self._within(box)
        return out

    def _within(self, box: Box) -> np.ndarray:
        """(H, W): how much of each pixel lies within the picture's own edges."""
        edges = self._edges - np.array([box.left, box.top] * 2)
        covered = coverage(edges, box.width, box.height)
        return covered * self.projection.seen(box) if self.projection else covered
