"""Where a wear would cut a stroke through, or leave less of it than it must: there a bridge along
the middle of the stroke stays.

What is left across each stroke is added up on a copy of the mark whose size follows from the piece
alone. Bridges take a little away from the share that an aim is to take: its points are solved once
more for what they keep.
"""

from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from kilncore.compiled.program import Program
from kilncore.geometry.box import Box
from kilncore.graph.keys import key_of
from kilncore.graph.plane import WholeValue, enlarged
from kilncore.graph.protocols import NodeReader
from kilncore.measure.strokes_left import across, ends
from kilncore.planes.mark_shape import MarkShape, Shape
from kilncore.system.opencv import cv2
from kilncore.textures.masks import mask_registers
from kilncore.wear.tones import Masked, WearTones

MARGIN_PX = 0.75  # of the shape's own: its middles lie on its pixels
LEAST_DEPTH = 0.8
APART = 6  # of a stroke's half width: so much closer than that its middle is looked at
MOST_POINTS = 20_000
TURNS = 4
MORE_PX = 0.5  # than the least that is asked for: what is left is told on a copy


@dataclass(frozen=True)
class Wanted:
    """How the points of a wear come about. points : (black, gamma, white) of the texture's own
    tones where they are given; None where an aim takes `share` away, `contrast` apart. least : that
    every part keeps.
    """

    points: tuple[float, float, float] | None
    share: float
    contrast: float
    least: float
    invert: bool

    def solved(self, tones: Any, more: float = 0.0) -> tuple[float, float, float]:
        """(black, gamma, white). tones : of the mark, or None where the points are given."""
        if self.points is not None:
            return self.points
        black, white = tones.points(min(self.share + more, 1.0), self.contrast, self.least)
        return (1 - white, 1.0, 1 - black) if self.invert else (black, 1.0, white)

    def lifts(
        self, tones: Any, points: tuple[float, float, float], parts: int
    ) -> np.ndarray | None:
        """By part, what is added to its tones as they take away; None for nothing."""
        if not self.least or tones is None:
            return None
        black, gamma, white = points
        if self.invert:
            black, white = 1 - white, 1 - black
        lifts = tones.lifts(black, white, self.least, gamma)
        lifts = np.concatenate([lifts, np.zeros(max(parts + 1 - len(lifts), 0), np.float32)])
        return lifts if lifts.any() else None


def shift_of(
    masked: Masked, shape: Shape, lifts: np.ndarray | None, box: Box, scale: float
) -> np.ndarray | None:
    """(H, W) that is added to the texture's own tones; None for nothing."""
    shift = masked.sparing.shift(shape, box, scale)
    if lifts is not None:
        lifted = lifts[shape.labels_at(box, scale)]
        shift = lifted if shift is None else shift + lifted
    return None if shift is None else -shift if masked.invert else shift


class Bridged:
    """points : (black, gamma, white), with what bridges keep allowed for. more : that share. kept :
    (H, W) uint8 of the shape's own px, or None.
    """

    def __init__(self, points: tuple, kept: np.ndarray | None, shape: Shape, more: float = 0.0):
        self.points, self.kept, self._shape, self.more = points, kept, shape, more

    @property
    def nbytes(self) -> int:
        """Of its plane."""
        return 100 + (0 if self.kept is None else self.kept.nbytes)

    def at(self, box: Box, scale: float) -> np.ndarray | None:
        """(H, W) 0..1 over a box; None where there are no bridges."""
        if self.kept is None:
            return None
        return enlarged(self.kept, self._shape.cells, scale / self._shape.scale, 1 / 255, box)


@dataclass(frozen=True)
class Bridges(WholeValue):
    """masked : with its frame at scale 1. stroke_px : document px that must be left across every
    stroke that had them.
    """

    shape: MarkShape
    tones: WearTones | None
    masked: Masked
    asked: Wanted
    stroke_px: float
    reads = None
    key: str = field(init=False)

    def __post_init__(self):
        needed = [value.key for value in self.needs]
        key = key_of("bridges", *needed, *self.masked.told, self.asked, self.stroke_px)
        object.__setattr__(self, "key", key)

    @property
    def needs(self) -> tuple[WholeValue, ...]:
        """The shape, and the tones where points are solved."""
        return (self.shape, *((self.tones,) if self.tones else ()))

    @property
    def whole(self) -> Box:
        """In the shape's own px."""
        return self.shape.cells

    def part(self, reader: NodeReader, tile: Box) -> tuple:
        """(tile, (mean, deviation, share that the mask reaches) of its tones)."""
        shape = reader.value(self.shape)
        masked, program = self.masked, Program(tile)
        frame = replace(masked.frame, scale=shape.scale)
        whole = (0.0, 1.0, 1.0)  # levels that leave tones as they are
        mask, share = mask_registers(
            reader,
            program,
            tile,
            masked.texture,
            masked.placement,
            frame,
            whole,
            specks=masked.specks,
        )
        squared = mask.shown * mask.shown if mask.squared is None else mask.squared
        rows = (mask.shown, squared) + ((share,) if share is not None else ())
        mean, square, *reached = program.planes(rows)
        program.run()
        spread = np.sqrt(np.maximum(square - mean * mean, 0))
        told = [mean, spread, reached[0] if reached else np.ones_like(mean)]
        return tile, np.stack(told).astype(np.float16)

    def joined(self, parts: list, reader: NodeReader) -> Bridged | None:
        """Of all tiles; None where there is no mark."""
        if not parts:
            return None
        cells = self.whole
        moments = np.zeros((3, cells.height, cells.width), np.float16)
        for box, values in parts:
            top, left = box.top - cells.top, box.left - cells.left
            moments[:, top : top + box.height, left : left + box.width] = values
        tones = reader.value(self.tones) if self.tones else None
        return _Search(moments, reader.value(self.shape), tones, self).bridged()

    def packed(self, value: Bridged | None) -> dict[str, np.ndarray] | None:
        """The points, and what is kept."""
        if value is None:
            return None
        kept = {} if value.kept is None else {"kept": value.kept}
        return {"points": np.array(value.points), "more": np.array(value.more), **kept}

    def unpacked(self, arrays: dict[str, np.ndarray], reader: NodeReader) -> Bridged:
        """Of those."""
        points, kept = tuple(map(float, arrays["points"])), arrays.get("kept")
        cells = (self.whole.height, self.whole.width)
        if len(points) != 3 or (
            kept is not None and (kept.shape != cells or kept.dtype != np.uint8)
        ):
            raise ValueError("no bridges")
        return Bridged(points, kept, reader.value(self.shape), float(arrays["more"]))


class _Search:
    """Looking for bridges: they and the points depend on each other."""

    def __init__(self, moments: np.ndarray, shape: Shape, tones: Any, asked: Bridges):
        self.mean, self.spread, self.reached = (plane.astype(np.float32) for plane in moments)
        self.shape, self.tones, self.asked = shape, tones, asked
        self.least = asked.stroke_px * shape.scale

    def bridged(self) -> Bridged:
        """Where they must be, and the points that take the share with them."""
        wanted, shape = self.asked.asked, self.shape
        points, more = wanted.solved(self.tones), 0.0
        if not shape.edged:
            return Bridged(points, None, shape)
        bad = np.zeros(shape.deep.shape, bool)
        inside = shape.deep > 0
        for turn in range(TURNS):
            shown = self._shown(points)
            bad |= _cut(shown, shape, self.least)
            if not bad.any():
                return Bridged(points, None, shape)
            kept = self._kept(bad)
            more = float((kept * (1 - shown))[inside].sum() / max(inside.sum(), 1))
            if turn < TURNS - 1:  # the last bridges stand, whatever the share is then
                points = wanted.solved(self.tones, more)
        return Bridged(points, np.rint(kept * 255).astype(np.uint8), shape, more)

    def _kept(self, bad: np.ndarray) -> np.ndarray:
        reach = np.float32(self.least / 2 + MARGIN_PX)
        away = cv2.distanceTransform(1 - bad.astype(np.uint8), cv2.DIST_L2, 5)
        return np.clip(reach + np.float32(0.5) - away, 0, 1)

    def _shown(self, points: tuple[float, float, float]) -> np.ndarray:
        """How much stays of each of the shape's px, on average; at three places of its tones (Gauss
        and Hermite)."""
        masked, shape = self.asked.masked, self.shape
        lifts = self.asked.asked.lifts(self.tones, points, shape.parts)
        shift = shift_of(masked, shape, lifts, shape.cells, shape.scale)
        tones = self.mean if shift is None else self.mean + shift
        black, gamma, white = points
        stays = np.zeros_like(tones)
        for away, weight in ((0.0, 2 / 3), (3**0.5, 1 / 6), (-(3**0.5), 1 / 6)):
            some = (tones + np.float32(away) * self.spread - np.float32(black)) / np.float32(
                max(white - black, 1e-6)
            )
            stays += np.float32(weight) * np.clip(some, 0, 1) ** np.float32(1 / gamma)
        stays = 1 - stays if masked.invert else stays
        stays = stays * self.reached if masked.hides else 1 - self.reached * (1 - stays)
        spared = masked.sparing.spared(shape, shape.cells, shape.scale)
        return stays if spared is None else 1 - (1 - stays) * (1 - spared)


def _cut(shown: np.ndarray, shape: Shape, least: float) -> np.ndarray:
    """(H, W) bool: middles of strokes across which less is left than `least`, where more was."""
    deep = shape.deep.astype(np.float32)
    bare = np.clip(deep + np.float32(0.5), 0, 1) * (deep > 0)
    strokes = (shape.middle < 0.5) & (deep >= LEAST_DEPTH) & ~ends(deep)
    rows, columns = np.nonzero(strokes)
    half, bad = deep[rows, columns], np.zeros(deep.shape, bool)
    size = float(half.max(initial=1.0))
    while size >= 0.5:
        mine = np.flatnonzero((half <= size) & (half > size / 2))
        step = max(1, int(size / APART), len(mine) // MOST_POINTS)
        mine = mine[::step]
        if len(mine):
            far = 1.2 * size + 2
            was, left = across(bare, shown * bare, rows[mine], columns[mine], far)
            short = mine[left < np.minimum(least + MORE_PX, was - 0.05)]
            middles = np.zeros(deep.shape, bool)
            middles[rows[short], columns[short]] = True
            bad |= _spread(middles, strokes, step)
        size /= 2
    return bad


def _spread(middles: np.ndarray, strokes: np.ndarray, step: int) -> np.ndarray:
    """The middles between those that were looked at too."""
    if step == 1 or not middles.any():
        return middles
    around = np.ones((2 * step + 1, 2 * step + 1), np.uint8)
    return (cv2.dilate(middles.astype(np.uint8), around) > 0) & strokes
