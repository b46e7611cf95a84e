"""The shape of a bare mark: how deep each pixel lies in it, how wide the stroke is there, and to
which of its letters or shapes it belongs.

It is told on a copy of the mark whose size follows from the piece alone, so that drafts and fired
pictures are worn by the same.
"""

import math
from copy import copy
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from kilncore.geometry.box import NOWHERE, Box, put, tiles_over
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.plane import GRID, WholeValue, cells_of, enlarged
from kilncore.graph.protocols import NodeReader
from kilncore.measure.stroke_middles import depth, widths
from kilncore.pixels.reduce import block_mean
from kilncore.planes.coverage import alpha_of
from kilncore.system.opencv import cv2

MOST_PARTS = 500
CRUMB = 2e-4  # of the mark: smaller parts are none of their own
MOST_PIXELS = 3_000_000  # of the page
MOST_PX = 60_000.0
SAME_PX = 2  # sides of a mark that was moved are the same up to so much
TYPICAL = 75  # percentile of half widths, by area


class Shape:
    """Planes over `cells`, at `scale` output px per document px; lengths in those px.

    deep : to the edge, 0 outside. middle : to the middle of the nearest stroke. half_width :
    of that stroke. label : of the nearest part, from 1 on; 0 where parts are crumbs or there is no
    edge. typical : half width of most of the mark.
    """

    def __init__(self, coverage: np.ndarray, cells: Box, scale: float):
        self.cells, self.scale = cells, scale
        inside = coverage >= 0.5
        self.edged = bool(inside.any() and not inside.all())
        if not self.edged:
            flat = np.zeros(coverage.shape, np.float16)
            self.deep = self.half_width = flat
            self.middle, self.label = flat + np.float16(MOST_PX), np.zeros(flat.shape, np.uint16)
            self.typical, self.parts = 1.0, 0
            return
        deep = depth(inside)
        self.label, self.parts = _labels(inside)
        middle, half_width = widths(deep, inside)
        self.typical = max(float(np.percentile(half_width[inside][::7], TYPICAL)), 0.5)
        self.deep, self.middle, self.half_width = (
            np.clip(one, -MOST_PX, MOST_PX).astype(np.float16) for one in (deep, middle, half_width)
        )

    @property
    def nbytes(self) -> int:
        """Of its planes."""
        return 8 * self.deep.size

    def moved(self, across: int, down: int) -> "Shape":
        """The same elsewhere, so many of its own px away."""
        moved = copy(self)
        moved.cells = self.cells.moved(across, down)
        return moved

    def at(self, plane: np.ndarray, box: Box, scale: float) -> np.ndarray:
        """(H, W) float32 of a plane of this shape's, over a box at another scale, read between its
        values.
        """
        return enlarged(plane, self.cells, scale / self.scale, 1.0, box)

    def labels_at(self, box: Box, scale: float) -> np.ndarray:
        """(H, W) of the part that each pixel of a box belongs to."""
        times = scale / self.scale
        rows, columns = (
            np.clip(
                np.floor((np.arange(first, first + count) + 0.5) / times).astype(np.int64) - start,
                0,
                size - 1,
            )
            for first, count, start, size in (
                (box.top, box.height, self.cells.top, self.cells.height),
                (box.left, box.width, self.cells.left, self.cells.width),
            )
        )
        return self.label[rows[:, None], columns]


def _labels(inside: np.ndarray) -> tuple[np.ndarray, int]:
    """The number of the nearest part of each pixel, and how many there are."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats(
        inside.astype(np.uint8), connectivity=8
    )
    areas = stats[1:, cv2.CC_STAT_AREA]
    large = np.flatnonzero(areas >= max(CRUMB * areas.sum(), 4))
    large = large[np.argsort(-areas[large], kind="stable")][:MOST_PARTS]
    number = np.zeros(count, np.uint16)
    number[large + 1] = np.arange(1, len(large) + 1)
    _, nearest = cv2.distanceTransformWithLabels(
        1 - inside.astype(np.uint8), cv2.DIST_L2, 3, labelType=cv2.DIST_LABEL_CCOMP
    )
    # OpenCV numbers the parts of what is near in its own order: each is given that of one of its
    # pixels
    own = np.zeros(int(nearest.max()) + 1, np.uint16)
    own[nearest[inside]] = number[labels[inside]]
    return own[nearest], len(large)


@dataclass(frozen=True)
class MarkShape(WholeValue):
    """reads : the bare art, at scale 1. whole : the box over which it is told. factor : how many px
    of each way one of the shape's own stands for. draft : the same art, as a draft draws it.
    """

    reads: Node
    whole: Box
    factor: int
    draft: "DraftShape | None" = field(default=None, compare=False)
    key: str = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("shape", self.reads.key, self.whole, self.factor))

    @property
    def cells(self) -> Box:
        """The whole in the shape's own px."""
        return cells_of(self.whole, self.factor)

    def stand_in(self, before: Any) -> WholeValue | None:
        """The shape of a moment ago where the mark lies now, if nothing but its place differs."""
        before = before.of if isinstance(before, MovedShape) else before
        if not isinstance(before, MarkShape):
            return None
        now, then = self.whole, before.whole
        differ = abs(now.width - then.width), abs(now.height - then.height)
        drawings: Any = [getattr(one.reads, "drawing", None) for one in (self, before)]
        if max(differ) > SAME_PX or before.factor != self.factor or None in drawings:
            return None
        away = drawings[0].moved_from(drawings[1])
        return away and MovedShape(before, *(round(one / self.factor) for one in away))

    @property
    def hasty(self) -> WholeValue:
        """Told from the draft."""
        return self.draft or self

    @property
    def tiles(self) -> list[Box]:
        """The whole, cut where the shape's own px begin."""
        wide, tall = (max(side // self.factor, 1) * self.factor for side in GRID)
        around = Box(*(n * self.factor for n in self.cells))
        return [tile.intersection(around) for tile in tiles_over(around, (wide, tall))]

    def part(self, reader: NodeReader, tile: Box) -> tuple[Box, np.ndarray]:
        """(cells, coverage in 16 bits) of one tile."""
        alpha = block_mean(alpha_of(reader, self.reads, tile), self.factor)
        return cells_of(tile, self.factor), np.rint(alpha * 65535).astype(np.uint16)

    def joined(self, parts: list, reader: NodeReader) -> Shape:
        """Of all tiles."""
        cells = self.cells
        alpha = np.zeros((max(cells.height, 1), max(cells.width, 1)), np.float32)
        for box, values in parts:
            top, left = box.top - cells.top, box.left - cells.left
            alpha[top : top + box.height, left : left + box.width] = values / np.float32(65535)
        return Shape(alpha, cells, 1 / self.factor)


@dataclass(frozen=True)
class DraftShape(WholeValue):
    """A shape told from art as a draft draws it: to the pixel of the draft, and far sooner. reads :
    that art, drawn at `scale`. whole : the box over which it is told, in its px.
    """

    reads: Node
    whole: Box
    scale: float
    key: str = field(init=False)

    def __post_init__(self):
        told = key_of("draft shape", self.reads.key, self.whole, self.scale)
        object.__setattr__(self, "key", told)

    def part(self, reader: NodeReader, tile: Box) -> tuple[Box, np.ndarray]:
        """(tile, its coverage)."""
        return tile, alpha_of(reader, self.reads, tile)

    def joined(self, parts: list, reader: NodeReader) -> Shape:
        """Of all tiles."""
        whole = self.whole
        alpha = np.zeros((max(whole.height, 1), max(whole.width, 1)), np.float32)
        for box, values in parts:
            put(alpha, whole, box, values)
        return Shape(alpha, whole, self.scale)


@dataclass(frozen=True)
class MovedShape(WholeValue):
    """A shape elsewhere. across, down : its own px."""

    of: MarkShape
    across: int
    down: int
    reads = None
    whole = NOWHERE
    key: str = field(init=False)

    def __post_init__(self):
        told = key_of("moved shape", self.of.key, self.across, self.down)
        object.__setattr__(self, "key", told)

    @property
    def needs(self) -> tuple[WholeValue, ...]:
        """The shape where it was."""
        return (self.of,)

    def joined(self, parts: list, reader: NodeReader) -> Shape:
        """The shape where it is."""
        return reader.value(self.of).moved(self.across, self.down)


def shape_factor(width_px: float, height_px: float) -> int:
    """How much smaller the shapes of marks on a piece of that size are told."""
    return max(1, math.ceil(math.sqrt(width_px * height_px / MOST_PIXELS)))
