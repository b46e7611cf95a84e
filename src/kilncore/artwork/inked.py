"""Outlines that are filled, each in a colour of its own, one over the other."""

import threading
from dataclasses import dataclass, field, replace

import numpy as np
from cachetools import LRUCache

from kilncore.artwork.coverage import Placed
from kilncore.artwork.drawing import Drawing, Split, extent_of
from kilncore.geometry.box import NOWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.protocols import NodeReader
from kilncore.perspective.projection import Projection
from kilncore.pixels.colour import hex_to_rgb
from kilncore.typesetting.outline import Outline

_EXTENTS: LRUCache = LRUCache(4096)
_LOCK = threading.Lock()


@dataclass(frozen=True, eq=False)
class Ink:
    """edges : (N, 4) float64 of closed outlines, in the unit of the art. colour : '#rrggbb'. cut :
    edges of what is cut out of it.
    """

    edges: np.ndarray
    colour: str
    cut: np.ndarray | None = None


@dataclass(frozen=True)
class InkedDrawing(Drawing):
    """told : a key of all that its outlines depend on. inks : the lowest first. matrix : their unit
    to output px, flat where there is a projection. body : the number of the ink that a fill takes
    the place of; None of none.
    """

    told: str
    inks: tuple[Ink, ...] = field(compare=False)
    matrix: tuple[float, ...] = ()
    projection: Projection | None = None
    body: int | None = 0
    key: str = field(init=False)
    extent: Box = field(init=False)
    tint: tuple[float, ...] | None = field(init=False)

    def __post_init__(self):
        colours = [ink.colour for ink in self.inks]
        key = key_of("inked", self.told, colours, self.matrix, self.projection)
        one = _rgb(colours[0]) if len(colours) == 1 else None
        for name, value in (
            ("key", key),
            ("tint", one if colours else (0.0,) * 3),
            ("extent", _extent(self, key)),
        ):
            object.__setattr__(self, name, value)

    def moved_from(self, other: Drawing) -> tuple[float, float] | None:
        """Where nothing but its place on the flat page differs."""
        if not isinstance(other, InkedDrawing) or self.projection or other.projection:
            return None
        same = self.told == other.told and self.matrix[:4] == other.matrix[:4]
        colours = [[ink.colour for ink in one.inks] for one in (self, other)]
        if not same or colours[0] != colours[1]:
            return None
        return self.matrix[4] - other.matrix[4], self.matrix[5] - other.matrix[5]

    @property
    def split(self) -> Split:
        """What is filled, with what lies beneath and above it in colours of its own."""
        if self.body is None:
            return self, None, None
        at = self.body
        some = [self.inks[:at], self.inks[at : at + 1], self.inks[at + 1 :]]
        beneath, body, above = (
            replace(self, told=f"{self.told} {n}", inks=inks) if inks else None
            for n, inks in enumerate(some)
        )
        return beneath, body, above

    def planes(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(1, H, W) coverage, or (4, H, W) where it has several colours."""
        seen = self.projection.seen(box) if self.projection else None
        if not self.inks:
            return np.zeros((1, box.height, box.width), np.float32)
        if len(self.inks) == 1:
            return self._filled(reader, 0, box, seen)[None]
        out = np.zeros((4, box.height, box.width), np.float32)
        for number, ink in enumerate(self.inks):
            over = self._filled(reader, number, box, seen)
            out *= 1 - over
            for plane, part in zip(out, (*_rgb(ink.colour), 1.0), strict=True):
                plane += over * np.float32(part)
        return out

    def _filled(
        self, reader: NodeReader, number: int, box: Box, seen: np.ndarray | None
    ) -> np.ndarray:
        """(H, W) of one of its inks."""
        ink = self.inks[number]
        covered = self._within(reader, number, ink.edges, box)
        if ink.cut is not None:
            covered = covered * (1 - self._within(reader, -1 - number, ink.cut, box))
        return covered if seen is None else covered * seen

    def _within(self, reader: NodeReader, name: int, edges: np.ndarray, box: Box) -> np.ndarray:
        make = lambda: Placed(_placed(self, edges))  # noqa: E731
        return reader.once((self.key, name), make).within(box)


def _placed(drawing: InkedDrawing, edges: np.ndarray) -> np.ndarray:
    """In output px."""
    placed = Outline(edges, 0, 0).placed(drawing.matrix)
    return drawing.projection.edges(placed) if drawing.projection else placed


def _extent(drawing: InkedDrawing, key: str) -> Box:
    """Of the placed outlines: a stack of many marks asks for it again and again."""
    with _LOCK:
        known = _EXTENTS.get(key)
    if known is None:
        some = [_placed(drawing, ink.edges).reshape(-1, 2) for ink in drawing.inks]
        some = [points for points in some if len(points)]
        known = extent_of(np.concatenate(some)) if some else NOWHERE
        with _LOCK:
            _EXTENTS[key] = known
    return known


def _rgb(colour: str) -> tuple[float, ...]:
    return tuple(float(one) for one in hex_to_rgb(colour))
