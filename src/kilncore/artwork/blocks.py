"""Art that child processes draw, in fixed blocks of the drawing's own grid.

One crop of a drawing equals that crop of the whole only when the same grid is asked for every time;
memory stays bounded at any size; and a drawing that is only moved is then the same drawing.
"""

from dataclasses import dataclass, field, replace
from typing import Any, Protocol

import numpy as np

from kilncore.artwork.drawing import Drawing, extent_of, moved_apart
from kilncore.geometry.box import Box, crop, put, tiles_over
from kilncore.graph.keys import key_of
from kilncore.graph.protocols import NodeReader

BLOCK = 2048
PHASES = 16  # of a pixel: finer places of a drawing are not told apart


class Blocked(Protocol):
    """Art that is drawn in blocks."""

    @property
    def hash(self) -> Any:
        """Of its file."""

    @property
    def width(self) -> float:
        """In px of its own."""

    @property
    def height(self) -> float:
        """Likewise."""

    @property
    def told(self) -> tuple:
        """All that its pixels depend on, but how it is placed."""

    def block(
        self, data: bytes, matrix: tuple[float, ...], width: int, height: int, unit: float
    ) -> np.ndarray:
        """(height, width, 4) straight bytes. data : of its file."""


@dataclass(frozen=True)
class BlockDrawing(Drawing):
    """art : has a width and a height, `told` (all that its pixels depend on), and draws its blocks.
    matrix : its own px, from its middle, to output px. unit : output px per document px.

    Drawn in blocks of its own grid, which begins at its upper left: moved by whole pixels it is the
    same drawing, and is not drawn again.
    """

    art: Blocked
    matrix: tuple[float, ...]
    unit: float = 1.0
    key: str = field(init=False)
    extent: Box = field(init=False)
    _own: tuple[float, ...] = field(init=False, compare=False, repr=False)
    _corner: tuple[int, int] = field(init=False, compare=False, repr=False)
    _own_extent: Box = field(init=False, compare=False, repr=False)
    _own_key: str = field(init=False, compare=False, repr=False)

    def __post_init__(self):
        a, b, c, d, e, f = self.matrix
        e, f = (round(n * PHASES) / PHASES for n in (e, f))
        w, h = self.art.width / 2, self.art.height / 2
        extent = extent_of(
            np.array([(a * x + c * y + e, b * x + d * y + f) for x in (-w, w) for y in (-h, h)])
        )
        own, corner = (a, b, c, d, e - extent.left, f - extent.top), (extent.left, extent.top)
        for name, value in (
            ("extent", extent),
            ("_own", own),
            ("_corner", corner),
            ("_own_extent", Box(0, 0, extent.width, extent.height)),
            (
                "_own_key",
                key_of("blocks", self.art.told, own, self.unit),
            ),
        ):
            object.__setattr__(self, name, value)
        object.__setattr__(self, "key", key_of(self._own_key, corner))

    def whole_px_from(self, other: Drawing) -> Drawing:
        """Drawn once, however far it is moved."""
        away = self.moved_from(other)
        if away is None or other.unit != self.unit:
            return self
        place = (self.matrix[n + 4] - away[n] + round(away[n]) for n in (0, 1))
        return replace(self, matrix=(*self.matrix[:4], *place))

    def moved_from(self, other: Drawing) -> tuple[float, float] | None:
        """Where nothing but its place differs."""
        return moved_apart(self, other)

    def lacking(self, reader: Any, box: Box) -> list[Box]:
        """The blocks behind a box that are not drawn yet."""
        return [block for block in self._blocks(box) if (self._own_key, block) not in reader.cache]

    def fetch(self, reader: NodeReader, part: Box) -> np.ndarray:
        """(H, W, 4) straight bytes of one block, drawn by a child process unless it is there."""
        return reader.once((self._own_key, part), lambda: self._block(reader, part))

    def _blocks(self, box: Box) -> list[Box]:
        left, top = self._corner
        here = box.intersection(self.extent).moved(-left, -top)
        return [block.intersection(self._own_extent) for block in tiles_over(here, (BLOCK, BLOCK))]

    def planes(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(4, H, W) premultiplied."""
        planes = np.empty((4, box.height, box.width), np.float32)
        for block in self._blocks(box):
            part = block.moved(*self._corner)
            here = part.intersection(box)
            put(planes, box, here, crop(np.moveaxis(self.fetch(reader, block), 2, 0), part, here))
        planes /= np.float32(255)
        planes[:3] *= planes[3]
        return planes

    def _block(self, reader: Any, block: Box):
        a, b, c, d, e, f = self._own
        matrix = (a, b, c, d, e - block.left, f - block.top)
        size = block.width, block.height
        return self.art.block(reader.assets.data(self.art.hash), matrix, *size, self.unit)
