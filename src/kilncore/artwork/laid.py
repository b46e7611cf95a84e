"""Art of any kind in perspective: drawn flat once, as fine as its nearest part shows, and read from
there.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np

from kilncore.artwork.drawing import Drawing, extent_of
from kilncore.geometry.affine import Affine
from kilncore.geometry.box import Box, put, tiles_over
from kilncore.graph.keys import key_of
from kilncore.graph.plane import GRID
from kilncore.graph.protocols import NodeReader
from kilncore.perspective.projection import Projection
from kilncore.textures.texture import Texture

FINEST, MOST_PIXELS = 8.0, 16_000_000  # of what is drawn flat
SOFT = 1.25  # how many times it may be enlarged before that is seen
AMONG = 9  # places each way, of which the one that is most enlarged tells how fine
AROUND = 64  # points of each side, by which the box on the piece is told


@dataclass(frozen=True)
class LaidDrawing(Drawing):
    """flat : the drawing by itself, neither turned nor moved, `size` times its own: however the
    art is laid, it is drawn once. placed : its own px, from its middle, to flat output px.
    projection : from there to output px.
    """

    flat: Drawing
    size: float
    placed: Affine
    projection: Projection
    key: str = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        meaning = self.flat.key, self.size, self.placed.matrix, self.projection
        object.__setattr__(self, "key", key_of("laid", *meaning))
        corners = corners_of(self.flat, self.size, self.placed)
        object.__setattr__(self, "extent", laid_extent(corners, self.projection))

    @property
    def tint(self) -> tuple[float, ...] | None:
        """Of the drawing."""
        return self.flat.tint

    def lacking(self, reader: NodeReader, box: Box) -> list[Box]:
        """All of the flat drawing's parts, unless it is there."""
        if (self.flat.key, "whole") in reader.cache:
            return []
        return self.flat.lacking(reader, self.flat.extent)

    def fetch(self, reader: NodeReader, part: Box) -> None:
        """Wait for one of them."""
        self.flat.fetch(reader, part)

    def planes(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(1, H, W) or (4, H, W)."""
        texture = reader.once((self.flat.key, "whole"), lambda: self._drawn(reader))
        left, top, right, bottom = self.flat.extent
        way = Affine(self.size, 0, 0, self.size, -(left + right) / 2, -(top + bottom) / 2)
        matrix = way.of(self.placed.inverse).matrix
        place = box.left, box.top, box.width, box.height
        sampled, _ = texture.sample(matrix, *place, "none", self.projection)
        sampled *= self.projection.seen(box)
        if len(sampled) == 4:
            np.minimum(sampled[:3], sampled[3], out=sampled[:3])
        return sampled

    def _drawn(self, reader: NodeReader) -> Texture:
        extent, count = self.flat.extent, 1 if self.flat.tint else 4
        out = np.zeros((count, max(extent.height, 1), max(extent.width, 1)), np.uint8)
        for tile in tiles_over(extent, GRID):
            here = tile.intersection(extent)
            put(out, extent, here, np.rint(self.flat.planes(reader, here) * np.float32(255)))
        return Texture(out)


def laid_drawing(draw: Callable, placed: Affine, projection: Projection) -> LaidDrawing:
    """draw : how many output px to one of its own -> the drawing, neither turned nor moved. placed,
    projection : as of LaidDrawing.
    """
    plain = draw(placed.scale)
    corners = corners_of(plain, placed.scale, placed)
    pixels = plain.extent.width * plain.extent.height
    size = placed.scale * fineness(corners, pixels, projection)
    return LaidDrawing(draw(size), size, placed, projection)


def corners_of(flat: Drawing, size: float, placed: Affine) -> list[tuple[float, float]]:
    """Of a drawing's box, in flat output px, in order around."""
    left, top, right, bottom = (n / size for n in flat.extent)
    ring = ((left, top), (right, top), (right, bottom), (left, bottom))
    return [placed.point(*corner) for corner in ring]


def fineness(corners: list[tuple[float, float]], pixels: float, projection: Projection) -> float:
    """How many times finer than flat a drawing of so many pixels has to be, a power of two, so that
    its nearest part is not soft. corners : in flat output px.
    """
    a, b, c, d = (np.array(corner) for corner in corners)
    shares = np.linspace(0, 1, AMONG)
    rows = ((a + (d - a) * down, b + (c - b) * down) for down in shares)
    places = [first + (last - first) * across for first, last in rows for across in shares]
    enlarged = float(projection.enlarged(places).max())
    most = math.sqrt(MOST_PIXELS / max(pixels, 1))
    wanted = 2.0 ** math.ceil(math.log2(min(max(enlarged / SOFT, 1.0), FINEST)) - 1e-9)
    return min(wanted, 2.0 ** math.floor(math.log2(most)))


def laid_extent(corners: list[tuple[float, float]], projection: Projection) -> Box:
    """The output px that a flat box comes to lie in. corners : in flat output px, in order."""
    shares = np.linspace(0, 1, AROUND)[:, None]
    ring = np.array([*corners, corners[0]])
    sides = [a + (b - a) * shares for a, b in pairwise(ring)]
    return extent_of(projection.points(np.concatenate(sides))).expanded(1)
