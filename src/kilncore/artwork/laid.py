"""Art of any kind in perspective: drawn flat once, as fine as its nearest part shows, and read from
there.
"""

import math
from dataclasses import dataclass, field

import numpy as np

from kilncore.artwork.drawing import Drawing, extent_of
from kilncore.geometry.box import Box, put, tiles_over
from kilncore.graph.keys import key_of
from kilncore.graph.plane import GRID
from kilncore.graph.protocols import NodeReader
from kilncore.perspective.projection import Projection
from kilncore.textures.texture import Texture

FINEST, MOST_PIXELS = 8.0, 16_000_000  # of what is drawn flat
AMONG = 9  # places each way, of which the one that is most enlarged tells how fine
AROUND = 64  # points of each side, by which the box on the piece is told


@dataclass(frozen=True)
class LaidDrawing(Drawing):
    """flat : the drawing, flat, `fine` times as large. projection : from flat output px to output
    px.
    """

    flat: Drawing
    fine: float
    projection: Projection
    key: str = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("laid", self.flat.key, self.fine, self.projection))
        object.__setattr__(
            self, "extent", laid_extent(_shrunk(self.flat, self.fine), self.projection)
        )

    @property
    def tint(self) -> tuple[float, ...] | None:
        """Of the drawing."""
        return self.flat.tint

    def lacking(self, reader: NodeReader, box: Box) -> list[Box]:
        """All of the flat drawing's parts, unless it is there."""
        if (self.key, "flat") in reader.cache:
            return []
        return self.flat.lacking(reader, self.flat.extent)

    def fetch(self, reader: NodeReader, part: Box) -> None:
        """Wait for one of them."""
        self.flat.fetch(reader, part)

    def planes(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(1, H, W) or (4, H, W)."""
        texture = reader.once((self.key, "flat"), lambda: self._drawn(reader))
        left, top, right, bottom = self.flat.extent
        x, y = (left + right) / 2, (top + bottom) / 2
        matrix = self.fine, 0.0, 0.0, self.fine, -x, -y
        found, _ = texture.sample(matrix, *corner_and_size(box), "none", self.projection)
        found *= self.projection.seen(box)
        if len(found) == 4:
            np.minimum(found[:3], found[3], out=found[:3])
        return found

    def _drawn(self, reader: NodeReader) -> Texture:
        extent, count = self.flat.extent, 1 if self.flat.tint else 4
        out = np.zeros((count, max(extent.height, 1), max(extent.width, 1)), np.uint8)
        for tile in tiles_over(extent, GRID):
            here = tile.intersection(extent)
            put(out, extent, here, np.rint(self.flat.planes(reader, here) * np.float32(255)))
        return Texture(out)


def laid_drawing(draw, projection: Projection) -> LaidDrawing:
    """draw : how many times finer -> the drawing, flat."""
    fine = fineness(draw(1.0).extent, projection)
    return LaidDrawing(draw(fine), fine, projection)


def fineness(extent: Box, projection: Projection) -> float:
    """How many times finer than flat a drawing has to be, a power of two."""
    across = np.linspace(extent.left, extent.right, AMONG)
    down = np.linspace(extent.top, extent.bottom, AMONG)
    enlarged = max(projection.around((x, y))[1] for x in across for y in down)
    most = math.sqrt(MOST_PIXELS / max(extent.width * extent.height, 1))
    wanted = 2.0 ** math.ceil(math.log2(min(max(enlarged, 1.0), FINEST)) - 1e-9)
    return min(wanted, 2.0 ** math.floor(math.log2(most)))


def laid_extent(flat: Box, projection: Projection) -> Box:
    """The output px that a flat box comes to lie in."""
    if flat.empty:
        return flat
    x, y = (
        np.linspace(a, b, AROUND) for a, b in ((flat.left, flat.right), (flat.top, flat.bottom))
    )
    sides = [
        (x, 0 * x + flat.top),
        (x, 0 * x + flat.bottom),
        (0 * y + flat.left, y),
        (0 * y + flat.right, y),
    ]
    points = np.concatenate([np.stack(side, 1) for side in sides])
    return extent_of(projection.points(points)).expanded(1)


def corner_and_size(box: Box) -> tuple[int, int, int, int]:
    """(left, top, width, height)."""
    return box.left, box.top, box.width, box.height


def _shrunk(flat: Drawing, fine: float) -> Box:
    left, top, right, bottom = (n / fine for n in flat.extent)
    return Box(math.floor(left), math.floor(top), math.ceil(right), math.ceil(bottom))
