"""Writing a tape: what is to be done with rows of pixels in a box, then doing it.

The compiled function that runs a tape works on raw addresses and checks nothing. So all is checked here, when a line is
written: that rows are of this tape and as many as the operation reads, that arrays have the type, the shape and the strides
that the line says, and that they stay alive. Addresses are made here and nowhere else. A line that would break this is a
ValueError: a fault of the program, never of a document.
"""

from contextlib import contextmanager

import numpy as np

from kilncore.box import Box
from kilncore.modes import BLEND_MODES
from kilncore.rows import machine
from kilncore.rows.assigning import NO_ROW, UNSOUND, assigned
from kilncore.rows.machine import OPERATIONS

STRETCH_PX = 720  # a tile of the engine with some margin: starting anew costs more than the nearest memory gains
ALIGNED = 64  # bytes: a stretch begins where a vector does
NOTHING, NO_ROWS = (0,) * 8, (NO_ROW,) * 4
NUMBER = {name: number for number, name in enumerate(OPERATIONS)}
FARTHEST = 2**40  # px: no box lies farther out
BYTES_AT_MOST = 2**40


class Row:
    """One row of a picture on its tape. Arithmetic with rows and numbers writes more of the tape and gives new rows."""

    __slots__ = ("tape", "number")
    __array_ufunc__ = None  # NumPy's numbers leave arithmetic to the row

    def __init__(self, tape: "Tape", number: int):
        self.tape, self.number = tape, number

    def __add__(self, other):
        return self.tape.row("add", self, other) if isinstance(other, Row) else self.tape.row("affine", self, numbers=(1, other))

    def __sub__(self, other):
        return self.tape.row("subtract", self, other) if isinstance(other, Row) else self.tape.row("affine", self, numbers=(1, -other))

    def __mul__(self, other):
        return self.tape.row("multiply", self, other) if isinstance(other, Row) else self.tape.row("affine", self, numbers=(other, 0))

    def __rsub__(self, number):
        return self.tape.row("affine", self, numbers=(-1, number))

    __radd__, __rmul__ = __add__, __mul__

    def held(self, slope: float = 1, offset: float = 0) -> "Row":
        """slope x + offset, cut to 0..1."""
        return self.tape.row("held", self, numbers=(slope, offset))


class Tape:
    """What is done with the rows of a box. A part of `machine.OPERATIONS` is written by `row`, or by `into` to change a
    row that is there. What is written twice is done once. drawn : pictures that are on it already, by their nodes' keys.

    skips : whether blocks may be left out where they are empty. Then nobody outside can share what is inside.
    """

    def __init__(self, box: Box, skips: bool = True):
        if box.empty or max(map(abs, box)) > FARTHEST or 4 * box.width * box.height > BYTES_AT_MOST:
            raise ValueError(f"{box} is no box for a tape")
        self.box, self.skips, self.drawn = box, skips, {}
        self._code, self._numbers, self._places = [], [], [0] * 8  # flat: many small tuples would wake the collector
        self._rows, self._made, self._sources, self._alive, self._skips = 0, {}, {}, [], []
        self._does_something = False

    # --- rows ---

    def row(self, op: str, *rows: Row, numbers: tuple = (), mode: int = 0) -> Row:
        """A new row. mode : of blending."""
        return self._row(op, rows, numbers, None, mode)

    def own(self, op: str, *rows: Row, numbers: tuple = ()) -> Row:
        """A new row that nobody else is given, so that it may be changed."""
        return self._own(op, rows, numbers)

    def into(self, op: str, out: Row, *rows: Row, numbers: tuple = ()) -> Row:
        """Change a row that is there. It must be one of one's own."""
        return self._into(op, out, rows, numbers)

    def constant(self, value: float) -> Row:
        return self.row("fill", numbers=(value,))

    def curve(self, row: Row, table: np.ndarray) -> Row:
        """A curve over 0..1 read from a table, with straight lines between its entries, which are of evenly spaced places
        from 0 to 1 and once more of 1."""
        if table.dtype != np.float32 or table.ndim != 1 or table.size < 3 or not table.flags.c_contiguous:
            raise ValueError(f"{table.dtype} {table.shape} is no table of a curve")
        return self._row("looked_up", (row,), (table.size - 2,), (self._address(table),))

    def cells(self, column: int, row: int, seed: int) -> Row:
        """White noise of mean 0 and spread 1. column, row : the cell at the box's first pixel."""
        return self._row("cells", (), (), (int(column), int(row), int(seed)))

    def _row(self, op, rows, numbers=(), place=None, more=0) -> Row:
        what = (op, *[row.number for row in rows], *numbers, place, more)
        made = self._made.get(what)
        if made is None or any(row.tape is not self for row in rows):
            made = self._made[what] = self._own(op, rows, numbers, place, more)
        return made

    def _own(self, op, rows, numbers=(), place=None, more=0) -> Row:
        made = Row(self, self._rows)
        self._write(op, made.number, rows, numbers, place, more)
        self._rows += 1
        return made

    def _into(self, op, out: Row, rows, numbers=(), place=None) -> Row:
        if out.tape is not self:
            raise ValueError(f"what {op!r} writes into is a row of another tape")
        self._write(op, out.number, rows, numbers, place)
        return out

    def _check(self, op, out, rows, numbers, place, more) -> None:
        known = OPERATIONS.get(op)
        if known is None or (out != NO_ROW) != known.makes or (place is not None) != bool(known.place):
            raise ValueError(f"{op!r} is no operation, or not one to be written so")
        if len(rows) != known.rows or len(numbers) != known.numbers:
            raise ValueError(f"{op!r} takes {known.rows} rows and {known.numbers} numbers, not {len(rows)} and {len(numbers)}")
        for row in rows:
            if row.tape is not self:
                raise ValueError(f"{op!r} is given a row of another tape")
        if more and not (op == "blend" and 0 <= more < len(BLEND_MODES)):
            raise ValueError(f"{op!r} has no mode {more}")

    def _write(self, op, out, rows, numbers=(), place=None, more=0):
        self._check(op, out, rows, numbers, place, more)
        if place is not None:
            self._places += place
            self._places += NOTHING[len(place) :]
        self._code += (NUMBER[op], out)
        self._code += [row.number for row in rows]
        self._code += NO_ROWS[len(rows) :]
        self._code += (more, 0 if place is None else len(self._places) // 8 - 1)
        self._numbers += numbers
        self._numbers += NOTHING[4 + len(numbers) :]

    # --- from memory and back ---

    def load(self, planes: np.ndarray, have: Box | None = None) -> tuple[Row, ...]:
        """A row of each plane of (C, H, W) float32 that cover `have`, the tape's box if None; 0 outside it."""
        return self.load_parts([(planes, have or self.box)])

    def load_parts(self, parts: list[tuple[np.ndarray, Box]]) -> tuple[Row, ...]:
        """The same of several arrays that lie side by side."""
        parts = [(np.ascontiguousarray(planes, np.float32), have) for planes, have in parts]
        if not parts or any(planes.ndim != 3 or len(planes) != len(parts[0][0]) for planes, _ in parts):
            raise ValueError(f"arrays of {[planes.shape for planes, _ in parts]} do not lie side by side")
        addresses = [self._address(planes) for planes, _ in parts]
        covered = len(parts) == 1 and parts[0][1].met(self.box) == self.box
        rows = []
        for c in range(len(parts[0][0])):
            out = None if covered else self._own("fill", (), (0,))
            for (planes, have), address in zip(parts, addresses, strict=True):
                place = self._placed(address, planes, c, have)
                out = self._row("load", (), (), place) if out is None else self._into("load", out, (), (), place)
            rows.append(out)
        if covered and parts[0][1] == self.box:
            self._sources[tuple(row.number for row in rows)] = parts[0][0]
        return tuple(rows)

    def _placed(self, address: int, planes: np.ndarray, c: int, have: Box) -> tuple[int, ...]:
        if planes.shape[1:] != (have.height, have.width):
            raise ValueError(f"an array of {planes.shape} does not cover {have}")
        left, top = have.left - self.box.left, have.top - self.box.top
        return address + c * planes.strides[0], planes.strides[1], left, top, left + have.width, top + have.height

    def repeated(self, planes: np.ndarray, column: int, row: int, unit: float) -> tuple[Row, ...]:
        """A row of each plane of (C, H, W) uint8 or uint16 that repeat without end, times `unit`. column, row : what lies
        at the first pixel of the tape's box."""
        channels, tall, wide = planes.shape
        if planes.dtype not in (np.uint8, np.uint16) or not planes.size or planes.strides[2] != planes.itemsize or planes.strides[1] <= 0:
            raise ValueError(f"{planes.dtype} {planes.shape} in steps of {planes.strides} does not repeat")
        op = "repeated8" if planes.dtype == np.uint8 else "repeated16"
        column, row = int(column), int(row)
        first, (plane_bytes, row_bytes, _) = self._address(planes), planes.strides
        in_row = row_bytes // planes.itemsize
        return tuple(self._row(op, (), (unit,), (first + c * plane_bytes, in_row, wide, tall, column % wide, row % tall))
                     for c in range(channels))

    def planes(self, rows: tuple[Row, ...]) -> np.ndarray:
        """(len(rows), H, W) float32, filled when the tape has run."""
        source = self._sources.get(tuple(row.number for row in rows))
        if source is not None:
            return source
        return self.store(rows, np.empty((len(rows), self.box.height, self.box.width), np.float32))

    def store(self, rows: tuple[Row, ...], out: np.ndarray) -> np.ndarray:
        """The same into (C, H, W) float32 that is there, of which each row lies in one stretch."""
        if out.shape != (len(rows), self.box.height, self.box.width) or not _written_to(out, np.float32) or out.strides[2] != 4:
            raise ValueError(f"{out.shape} is no place for {len(rows)} rows of {self.box}")
        first, (plane_bytes, row_bytes, _) = self._address(out), out.strides
        for c, row in enumerate(rows):
            self._write("store", NO_ROW, (row,), place=(first + c * plane_bytes, row_bytes))
        self._does_something = True
        return out

    def to_bytes(self, rows: tuple[Row, ...], out: np.ndarray) -> None:
        """Three straight rows, or four with alpha, into (H, W, 3 or 4) uint8 of the box's size when the tape runs."""
        fits = out.shape == (self.box.height, self.box.width, len(rows)) and len(rows) in (3, 4)
        if not fits or not _written_to(out, np.uint8) or out.strides[1:] != (len(rows), 1):
            raise ValueError(f"{out.shape} is no place for {len(rows)} rows of {self.box}")
        self._write("store_rgb" if len(rows) == 3 else "store_rgba", NO_ROW, rows, place=(self._address(out), out.strides[0]))
        self._does_something = True

    def _address(self, array: np.ndarray) -> int:
        self._alive.append(array)
        return _address(array)

    # --- leaving out what is empty ---

    @contextmanager
    def block(self):
        """What is written inside may be left out for a stretch, by `skip_if_blank`. Pictures that are drawn inside are
        unknown outside."""
        if not self.skips:
            yield
            return
        drawn, made, skips = dict(self.drawn), dict(self._made), self._skips
        self._skips = []
        yield
        for line in self._skips:
            self._code[8 * line + 6] = len(self._code) // 8
        self.drawn, self._made, self._skips = drawn, made, skips

    def skip_if_blank(self, row: Row) -> None:
        """Leave out the rest of the innermost block for every stretch in which the row is 0 all over."""
        if self.skips:
            self._skips.append(len(self._code) // 8)
            self._write("skip_if_blank", NO_ROW, (row,))

    # --- running ---

    def run(self) -> None:
        """Do all that was written. Threads may run tapes of their own at once."""
        if not self._does_something:
            return
        code = np.array(self._code, np.int64).reshape(-1, 8)
        registers = assigned(code, self._rows, len(OPERATIONS), len(self._places) // 8)
        if registers == UNSOUND:
            raise ValueError("a line of this tape points outside its tables")
        numbers, places = np.array(self._numbers, np.float32), np.array(self._places, np.int64)
        stretch = -(-self.box.width // -(-self.box.width // STRETCH_PX))
        row_bytes = -(-stretch * 4 // ALIGNED) * ALIGNED
        scratch = np.empty(registers * row_bytes + ALIGNED, np.uint8)
        first = _address(scratch)
        machine.run(_address(code), len(code), _address(numbers), _address(places), first + -first % ALIGNED, row_bytes,
                    self.box.width, self.box.height, stretch)


def _written_to(out: np.ndarray, kind) -> bool:
    """Whether rows of it may be written, one after another."""
    return out.dtype == kind and out.flags.writeable and (out.strides[-2] > 0 or out.size == 0)


def _address(array: np.ndarray) -> int:
    return array.__array_interface__["data"][0]
