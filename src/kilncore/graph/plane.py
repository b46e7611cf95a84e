"""One-plane nodes and whole-item values.

A plane is a node of one number a pixel: coverage, a distance, a weight. It stands in the same graph
as pictures, and is keyed and kept like them. There are four sorts, and each plane is a module in
`kilncore/planes/` with a class of one of them:

    Plane         written as a register, pixel by pixel
    ArrayPlane    worked out as an array of any box
    TilePlane     worked out as an array of whole tiles of the fixed grid, and stored compactly: for
                  what is not the same to the bit in any box, because its method looks around
    WholePlane    worked out once over a whole item, stored compactly

A whole-item value (`WholeValue`: a mean, a share, a whole plane) is worked out before anything that
needs it is drawn, and held as long as the picture is drawn. It depends on the item's whole treated
extent, never on what is looked at.
"""

from typing import Any

import numpy as np

from kilncore.compiled.between import read_between
from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import Box, tiles_over
from kilncore.geometry.windows import GRID
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets, NodeReader
from kilncore.pixels.pixel_format import PLANE, PlaneFormat
from kilncore.pixels.reduce import block_mean

# of an extent; larger ones are worked out at a quarter of their size, or a sixteenth
WHOLE_PIXELS = 64_000_000


class Plane(Node):
    """write(reader, program, box) gives a register; outside its extent it is 0."""

    def pixel_format(self, assets: Assets | None, *formats: Any) -> PlaneFormat:
        """One plane of float32."""
        return PLANE


class ArrayPlane(Plane):
    """compute(reader, box) gives (H, W) float32, the same for a pixel in every box."""

    def compute(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(H, W) float32 of a box."""
        raise NotImplementedError

    def write(self, reader: NodeReader, program: Program, box: Box) -> Register:
        """The array of the box as a register."""
        return program.load(self.compute(reader, box)[None], box)[0]


class TilePlane(Plane):
    """compute(reader, box) gives (H, W) float32. kind, unit : how values are stored, rounded to
    whole units.
    """

    on_grid = True
    kind, unit, outside = np.dtype(np.uint16), 1 / 65535, 0.0

    def pixel_format(self, assets: Assets | None, *formats: Any) -> PlaneFormat:
        """One compact plane."""
        return PlaneFormat(np.dtype(self.kind), self.unit, self.outside)

    def compute(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(H, W) float32 of a box."""
        raise NotImplementedError

    def tile(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(1, H, W), as it is stored."""
        return compact(self.compute(reader, box), np.dtype(self.kind), self.unit)[None]


class WholeValue(Node):
    """reads : the node that it is worked out from; None where other values are all it needs. needs
    : those values, each worked out before. whole : the box over which it is worked out.

    part(reader, tile) is asked of every tile of the whole, on any thread; joined(parts, reader)
    makes the value of them, in order. Both may ask the reader for the values that it needs.
    recalled : whether a draft may take the value of a moment ago as it is, since it says nothing of
    places.
    """

    reads: Node | None
    whole: Box
    needs: tuple["WholeValue", ...] = ()
    recalled = False

    def stand_in(self, before: Any) -> "WholeValue | None":
        """While a hand moves something: the value of a moment ago in the place of this one; None
        if it would not do. before : what had this one's place then.
        """
        return before if self.recalled else None

    @property
    def hasty(self) -> "WholeValue":
        """While a hand moves something: as near to this one as is quick to work out."""
        return self

    def part(self, reader: NodeReader, tile: Box) -> Any:
        """What one tile of the whole gives."""
        raise NotImplementedError

    def joined(self, parts: list, reader: NodeReader) -> Any:
        """The value, of the parts of all tiles."""
        raise NotImplementedError

    def packed(self, value: Any) -> dict[str, np.ndarray] | None:
        """The value as arrays, to outlive the process; None of one that does not."""
        return None

    def unpacked(self, arrays: dict[str, np.ndarray], reader: NodeReader) -> Any:
        """The value of such arrays; what it needs is there. ValueError, KeyError or TypeError if
        they are none of its.
        """
        raise ValueError("nothing of this sort is kept")

    @property
    def tiles(self) -> list[Box]:
        """The whole, cut from its corner on: as few as may be."""
        left, top = self.whole.left, self.whole.top
        return [
            tile.moved(left, top).intersection(self.whole)
            for tile in tiles_over(self.whole.moved(-left, -top), GRID)
        ]


class WholePlane(WholeValue, Plane):
    """A plane worked out once over the whole of `reads`: from(plane, factor) -> plane, both
    compact.

    Up to WHOLE_PIXELS at its own size, beyond that from means of 4 x 4 px, or 16 x 16, by a rule
    that depends on the extent alone. kind, unit : how values are stored.
    """

    kind, unit, outside = np.dtype(np.uint16), 1 / 65535, 0.0

    def pixel_format(self, assets: Assets | None, *formats: Any) -> PlaneFormat:
        """One plane of float32."""
        return PlaneFormat(outside=self.outside)

    def solved(self, plane: np.ndarray) -> np.ndarray:
        """The plane, worked out from the means of what is read; both compact."""
        raise NotImplementedError

    @property
    def wholes(self) -> tuple[Node, ...]:
        """Itself."""
        return (self,)

    @property
    def extent(self) -> Box:
        """The whole that it is worked out over."""
        return self.whole

    @property
    def factor(self) -> int:
        """How many px of each way one stored value stands for."""
        return whole_factor(self.whole)

    @property
    def cells(self) -> Box:
        """The whole in stored values: those that it touches on a grid from (0, 0)."""
        return cells_of(self.whole, self.factor)

    @property
    def tiles(self) -> list[Box]:
        """The whole, cut where stored values begin."""
        wide, tall = GRID
        size = (
            max(wide // self.factor, 1) * self.factor,
            max(tall // self.factor, 1) * self.factor,
        )
        left, top, right, bottom = (n * self.factor for n in self.cells)
        return [
            tile.intersection(Box(left, top, right, bottom))
            for tile in tiles_over(Box(left, top, right, bottom), size)
        ]

    def part(self, reader: NodeReader, tile: Box) -> tuple[Box, np.ndarray]:
        """The means of what is read, of one tile: (its cells, (h, w) uint16)."""
        read = reader.read(self.reads, tile, alone=True)[-1]
        return cells_of(tile, self.factor), compact(
            block_mean(read, self.factor), np.dtype(np.uint16), 1 / 65535
        )

    def joined(self, parts: list, reader: NodeReader) -> np.ndarray:
        """The plane, compact, over `cells`."""
        means = np.zeros((self.cells.height, self.cells.width), np.uint16)
        for box, values in parts:
            top, left = box.top - self.cells.top, box.left - self.cells.left
            means[top : top + box.height, left : left + box.width] = values
        # compiled code is never given nothing: where there is no picture there is no plane
        return self.solved(means) if means.size else means.astype(self.kind)

    def write(self, reader: NodeReader, program: Program, box: Box) -> Register:
        """The part of the plane that lies in the box; of a smaller one, read between its values."""
        values = reader.value(self)
        if self.factor == 1:
            return program.load_plane(values, self.cells, self.unit, self.outside)
        return program.load(enlarged(values, self.cells, self.factor, self.unit, box)[None], box)[0]


def whole_factor(whole: Box) -> int:
    """1, 4, 16 ...: how much smaller a plane over that extent is worked out."""
    factor = 1
    while whole.width * whole.height > WHOLE_PIXELS * factor * factor:
        factor *= 4
    return factor


def compact(values: np.ndarray, kind: np.dtype, unit: float) -> np.ndarray:
    """Float values in whole units, cut to what the type holds; what is not a number is 0."""
    bounds = np.iinfo(kind)
    return np.clip(
        np.rint(np.nan_to_num(values) / np.float32(unit)), bounds.min, bounds.max
    ).astype(kind)


def enlarged(values: np.ndarray, cells: Box, factor: float, unit: float, box: Box) -> np.ndarray:
    """(H, W) float32 of a box, read between stored values by straight lines."""
    rows, down = _between(box.top, box.height, cells.top, cells.height, factor)
    columns, across = _between(box.left, box.width, cells.left, cells.width, factor)
    # no more is read than is needed
    left, top = int(columns[0][0]), int(rows[0][0])
    near = values[top : int(rows[1][-1]) + 1, left : int(columns[1][-1]) + 1]
    return read_between(
        np.ascontiguousarray(near, np.float32),
        (rows[0] - top, rows[1] - top),
        down,
        (columns[0] - left, columns[1] - left),
        across,
        np.float32(unit),
    )


def _between(first: int, count: int, first_cell: int, size: int, factor: float):
    at = (np.arange(first, first + count) + 0.5) / factor - 0.5 - first_cell
    low = np.floor(at)
    share = (at - low).astype(np.float32)
    return [np.clip(low + n, 0, size - 1).astype(np.int64) for n in (0, 1)], share


def cells_of(box: Box, factor: int) -> Box:
    """A box in cells of so many px, widened to whole ones."""
    return Box(
        box.left // factor, box.top // factor, -(-box.right // factor), -(-box.bottom // factor)
    )
