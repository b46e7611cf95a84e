"""Writing a program: what is to be done with the pixels of a box, a stretch of a row at a time;
then running it.

The interpreter works on raw addresses and checks nothing. So all is checked here, when a line is
written: that registers are of this program and as many as the operation reads, that arrays have the
type, the shape and the strides that the line says, and that they stay alive. Addresses are made
here and nowhere else. A line that would break this is a ValueError: a fault of the code, never of a
document. docs/programs.md shows how to write one, and how to print it.
"""

from contextlib import contextmanager
from typing import Any

import numpy as np

from kilncore.compiled import interpreter
from kilncore.compiled.operation import OPERATIONS
from kilncore.compiled.register_allocation import NO_REGISTER, UNSOUND, allocated
from kilncore.geometry.box import Box

# a tile of the engine with some margin: starting anew costs more than the nearest memory gains
STRETCH_PX = 720
ALIGNED = 64  # bytes: a stretch begins where a vector does
ZEROS, NO_REGISTERS = (0,) * 8, (NO_REGISTER,) * 4
NUMBER = {name: number for number, name in enumerate(OPERATIONS)}
FARTHEST = 2**40  # px: no box lies farther out
BYTES_AT_MOST = 2**40
REPEATED = {np.dtype(np.uint8): "repeat_uint8", np.dtype(np.uint16): "repeat_uint16"}
LOADED = {
    np.dtype(np.uint8): "load_uint8",
    np.dtype(np.uint16): "load_uint16",
    np.dtype(np.int16): "load_int16",
}


class Register:
    """One row of pixels of a program. Arithmetic with registers and numbers writes more of the
    program.
    """

    __slots__ = ("program", "number")
    __array_ufunc__ = None  # NumPy's numbers leave arithmetic to the register

    def __init__(self, program: "Program", number: int):
        self.program, self.number = program, number

    def _with(self, name: str, other: Any, slope: float, offset: float) -> "Register":
        if isinstance(other, Register):
            return self.program.op(name, self, other)
        return self.program.op("affine", self, numbers=(slope, offset))

    def __add__(self, other: Any):
        return self._with("add", other, 1, other)

    def __sub__(self, other: Any):
        return (
            self.program.op("subtract", self, other)
            if isinstance(other, Register)
            else self + -other
        )

    def __mul__(self, other: Any):
        return self._with("multiply", other, other, 0)

    def __rsub__(self, number: int):
        return self.program.op("affine", self, numbers=(-1, number))

    __radd__, __rmul__ = __add__, __mul__

    def clamped(self, slope: float = 1, offset: float = 0) -> "Register":
        """slope x + offset, clamped to 0..1."""
        return self.program.op("clamp", self, numbers=(slope, offset))


class Program:
    """What is done with the pixels of a box. An operation of the table is written by `op`, by
    `mutable` for a register that may be changed, or by `assign` to change one. What is written
    twice is done once.

    box : the output px that it works on. skips : whether blocks may be left out where they are
    blank; then nobody outside can share what is inside. drawn : pictures and planes that are in it
    already, by their nodes' keys.
    """

    def __init__(self, box: Box, skips: bool = True):
        if box.empty or max(map(abs, box)) > FARTHEST or 4 * box.width * box.height > BYTES_AT_MOST:
            raise ValueError(f"{box} is no box for a program")
        self.box, self.skips, self.drawn = box, skips, {}
        self._code, self._numbers, self._descriptors = (
            [],
            [],
            [0] * 8,
        )  # flat: many small tuples would wake the collector
        self._registers, self._made, self._sources, self._alive, self._skips = 0, {}, {}, [], []
        self._does_something = False

    # --- operations ---

    def op(self, name: str, *inputs: Register, numbers: tuple[float, ...] = ()) -> Register:
        """A register made by an operation."""
        return self._op(name, inputs, numbers)

    def mutable(self, name: str, *inputs: Register, numbers: tuple[float, ...] = ()) -> Register:
        """The same, given to nobody else, so that it may be changed."""
        return self._mutable(name, inputs, numbers)

    def assign(
        self, name: str, out: Register, *inputs: Register, numbers: tuple[float, ...] = ()
    ) -> Register:
        """Change a mutable register."""
        return self._assign(name, out, inputs, numbers)

    def constant(self, value: float) -> Register:
        """A register of one value."""
        return self.op("fill", numbers=(value,))

    def lut(self, register: Register, table: np.ndarray) -> Register:
        """A curve over 0..1 read from a table, with straight lines between its entries.

        table : (N,) float32: values at evenly spaced places from 0 to 1, and the last once more.
        """
        if (
            table.dtype != np.float32
            or table.ndim != 1
            or table.size < 3
            or not table.flags.c_contiguous
        ):
            raise ValueError(f"{table.dtype} {table.shape} is no table of a curve")
        return self._op("lut", (register,), (table.size - 2,), (self._address(table),))

    def grid(self, a: float, b: float, c: float) -> Register:
        """a x + b y + c at each pixel's middle, in output px from the whole grid's origin."""
        table = np.array([a, b, c], np.float64)
        if not np.isfinite(table).all():
            raise ValueError(f"{a} x + {b} y + {c} is no place")
        key = ("grid", a, b, c)
        if key not in self._made:
            self._made[key] = self._mutable(
                "grid", (), (), (self.box.left, self.box.top, self._address(table))
            )
        return self._made[key]

    def cells(self, column: int, row: int, seed: int) -> Register:
        """White noise of mean 0 and spread 1. column, row : the cell at the box's first pixel. seed
        : 32 bits.
        """
        return self._op("cells", (), (), (int(column), int(row), int(seed)))

    def _op(
        self, name: str, inputs: tuple, numbers: tuple = (), descriptor: tuple | None = None
    ) -> Register:
        line = (name, *[register.number for register in inputs], *numbers, descriptor)
        made = self._made.get(line)
        if made is None or any(register.program is not self for register in inputs):
            made = self._made[line] = self._mutable(name, inputs, numbers, descriptor)
        return made

    def _mutable(
        self, name: str, inputs: tuple, numbers: tuple = (), descriptor: tuple | None = None
    ) -> Register:
        made = Register(self, self._registers)
        self._write(name, made.number, inputs, numbers, descriptor)
        self._registers += 1
        return made

    def _assign(
        self,
        name: str,
        out: Register,
        inputs: tuple,
        numbers: tuple = (),
        descriptor: tuple | None = None,
    ) -> Register:
        if out.program is not self:
            raise ValueError(f"what {name!r} writes into is a register of another program")
        self._write(name, out.number, inputs, numbers, descriptor)
        return out

    def _check(
        self, name: str, out: int, inputs: tuple, numbers: tuple, descriptor: tuple | None
    ) -> None:
        known = OPERATIONS.get(name)
        if (
            known is None
            or (out != NO_REGISTER) != known.makes
            or (descriptor is not None) != bool(known.memory)
        ):
            raise ValueError(f"{name!r} is no operation, or not one to be written so")
        if len(inputs) != known.inputs or len(numbers) != known.numbers:
            raise ValueError(
                f"{name!r} takes {known.inputs} registers and {known.numbers} numbers, not "
                f"{len(inputs)} and {len(numbers)}"
            )
        for register in inputs:
            if register.program is not self:
                raise ValueError(f"{name!r} is given a register of another program")

    def _write(
        self,
        name: str,
        out: int,
        inputs: tuple,
        numbers: tuple = (),
        descriptor: tuple | None = None,
    ):
        self._check(name, out, inputs, numbers, descriptor)
        if descriptor is not None:
            self._descriptors += descriptor
            self._descriptors += ZEROS[len(descriptor) :]
        self._code += (NUMBER[name], out)
        self._code += [register.number for register in inputs]
        self._code += NO_REGISTERS[len(inputs) :]
        self._code += (0, 0 if descriptor is None else len(self._descriptors) // 8 - 1)
        self._numbers += numbers
        self._numbers += ZEROS[4 + len(numbers) :]

    # --- from memory and back ---

    def load(self, planes: np.ndarray, have: Box | None = None) -> tuple[Register, ...]:
        """A register of each plane of (C, H, W) float32 that cover `have`, the program's box if
        None; 0 outside it.
        """
        return self.load_tiles([(planes, have or self.box)])

    def load_tiles(
        self, tiles: list[tuple[np.ndarray, Box]], outside: float = 0
    ) -> tuple[Register, ...]:
        """The same of several arrays that lie side by side. outside : what lies outside them."""
        tiles = [(np.ascontiguousarray(planes, np.float32), have) for planes, have in tiles]
        if not tiles or any(
            planes.ndim != 3 or len(planes) != len(tiles[0][0]) for planes, _ in tiles
        ):
            raise ValueError(
                f"arrays of {[planes.shape for planes, _ in tiles]} do not lie side by side"
            )
        addresses = [self._address(planes) for planes, _ in tiles]
        covered = len(tiles) == 1 and tiles[0][1].intersection(self.box) == self.box
        registers = []
        for c in range(len(tiles[0][0])):
            out = None if covered else self._mutable("fill", (), (outside,))
            for (planes, have), address in zip(tiles, addresses, strict=True):
                lies = self._lies(
                    address + c * planes.strides[0], planes.strides[1], planes.shape[1:], have
                )
                out = (
                    self._op("load", (), (), lies)
                    if out is None
                    else self._assign("load", out, (), (), lies)
                )
            registers.append(out)
        made = [register for register in registers if register is not None]
        if covered and tiles[0][1] == self.box:
            self._sources[tuple(register.number for register in made)] = tiles[0][0]
        return tuple(made)

    def load_plane(self, plane: np.ndarray, have: Box, unit: float, outside: float = 0) -> Register:
        """A register of an (H, W) uint8, uint16 or int16 plane that covers `have`, times `unit`;
        `outside` beyond it.
        """
        return self.load_plane_tiles([(plane, have)], unit, outside)

    def load_plane_tiles(
        self, tiles: list[tuple[np.ndarray, Box]], unit: float, outside: float = 0
    ) -> Register:
        """The same of several planes that lie side by side."""
        out = self._mutable("fill", (), (outside,))
        for plane, have in tiles:
            if plane.dtype not in LOADED or plane.ndim != 2 or not plane.flags.c_contiguous:
                raise ValueError(f"{plane.dtype} {plane.shape} is no plane")
            lies = self._lies(self._address(plane), plane.shape[1], plane.shape, have)
            self._assign(LOADED[plane.dtype], out, (), (unit,), lies)
        return out

    def _lies(self, address: int, row_step: int, shape: tuple, have: Box) -> tuple[int, ...]:
        if tuple(shape) != (have.height, have.width):
            raise ValueError(f"an array of {shape} does not cover {have}")
        left, top = have.left - self.box.left, have.top - self.box.top
        return address, row_step, left, top, left + have.width, top + have.height

    def repeat(
        self, planes: np.ndarray, column: int, row: int, unit: float
    ) -> tuple[Register, ...]:
        """A register of each plane of (C, H, W) uint8 or uint16 that repeat without end, times
        `unit`. column, row : what lies at the first pixel of the program's box."""
        channels, tall, wide = planes.shape
        if (
            planes.dtype not in REPEATED
            or not planes.size
            or planes.strides[2] != planes.itemsize
            or planes.strides[1] <= 0
        ):
            raise ValueError(
                f"{planes.dtype} {planes.shape} in steps of {planes.strides} does not repeat"
            )
        column, row = int(column), int(row)
        first, (plane_bytes, row_bytes, _) = self._address(planes), planes.strides
        in_row = row_bytes // planes.itemsize
        return tuple(
            self._op(
                REPEATED[planes.dtype],
                (),
                (unit,),
                (first + c * plane_bytes, in_row, wide, tall, column % wide, row % tall),
            )
            for c in range(channels)
        )

    def planes(self, registers: tuple[Register, ...]) -> np.ndarray:
        """(len(registers), H, W) float32, filled when the program has run."""
        source = self._sources.get(tuple(register.number for register in registers))
        if source is not None:
            return source
        return self.store(
            registers, np.empty((len(registers), self.box.height, self.box.width), np.float32)
        )

    def store(self, registers: tuple[Register, ...], out: np.ndarray) -> np.ndarray:
        """The same into (C, H, W) float32 that is there, of which each row lies in one stretch."""
        if (
            out.shape != (len(registers), self.box.height, self.box.width)
            or not _takes_rows(out, np.float32)
            or out.strides[2] != 4
        ):
            raise ValueError(
                f"{out.shape} is no place for {len(registers)} registers of {self.box}"
            )
        first, (plane_bytes, row_bytes, _) = self._address(out), out.strides
        for c, register in enumerate(registers):
            self._write(
                "store", NO_REGISTER, (register,), descriptor=(first + c * plane_bytes, row_bytes)
            )
        self._does_something = True
        return out

    def to_bytes(self, registers: tuple[Register, ...], out: np.ndarray) -> None:
        """Three straight registers, or four with alpha, into (H, W, 3 or 4) uint8 of the box's size
        when the program runs.
        """
        fits = out.shape == (self.box.height, self.box.width, len(registers)) and len(
            registers
        ) in (3, 4)
        if not fits or not _takes_rows(out, np.uint8) or out.strides[1:] != (len(registers), 1):
            raise ValueError(
                f"{out.shape} is no place for {len(registers)} registers of {self.box}"
            )
        self._write(
            "store_rgb" if len(registers) == 3 else "store_rgba",
            NO_REGISTER,
            registers,
            descriptor=(self._address(out), out.strides[0]),
        )
        self._does_something = True

    def _address(self, array: np.ndarray) -> int:
        self._alive.append(array)
        return _address(array)

    # --- leaving out what is blank ---

    @contextmanager
    def block(self):
        """What is written inside may be left out for a stretch, by `skip_if_blank`. What is drawn
        inside is unknown outside.
        """
        if not self.skips:
            yield
            return
        drawn, made, skips = dict(self.drawn), dict(self._made), self._skips
        self._skips = []
        yield
        for line in self._skips:
            self._code[8 * line + 6] = len(self._code) // 8
        self.drawn, self._made, self._skips = drawn, made, skips

    def skip_if_blank(self, register: Register) -> None:
        """Leave out the rest of the innermost block for every stretch in which the register is 0
        all over.
        """
        if self.skips:
            self._skips.append(len(self._code) // 8)
            self._write("skip_if_blank", NO_REGISTER, (register,))

    # --- running ---

    def run(self) -> None:
        """Do all that was written. Threads may run programs of their own at once."""
        if not self._does_something:
            return
        code = np.array(self._code, np.int64).reshape(-1, 8)
        places = allocated(
            code,
            self._registers,
            len(OPERATIONS),
            len(self._descriptors) // 8,
            NUMBER["skip_if_blank"],
        )
        if places == UNSOUND:
            raise ValueError("a line of this program points outside its tables")
        numbers, descriptors = (
            np.array(self._numbers, np.float32),
            np.array(self._descriptors, np.int64),
        )
        stretch = -(-self.box.width // -(-self.box.width // STRETCH_PX))
        row_bytes = -(-stretch * 4 // ALIGNED) * ALIGNED
        scratch = np.empty(places * row_bytes + ALIGNED, np.uint8)
        first = _address(scratch)
        interpreter.run(
            _address(code),
            len(code),
            _address(numbers),
            _address(descriptors),
            first + -first % ALIGNED,
            row_bytes,
            self.box.width,
            self.box.height,
            stretch,
        )

    def __str__(self) -> str:
        """A line for each operation, as `r5 = multiply r1 r2`."""
        return "\n".join(
            _line(number, *self._line(number)) for number in range(len(self._code) // 8)
        )

    def _line(self, number: int):
        code = self._code[8 * number : 8 * number + 8]
        entry = OPERATIONS[list(OPERATIONS)[code[0]]]
        return entry, code, self._numbers[4 * number : 4 * number + entry.numbers]


def _line(number: int, entry: Any, code: np.ndarray, numbers: Any) -> str:
    out = f"r{code[1]} = " if entry.makes else ""
    inputs = [f"r{register}" for register in code[2 : 2 + entry.inputs]]
    more = (
        [f"{value:g}" for value in numbers]
        + [f"@{code[7]}"] * bool(entry.memory)
        + [f"to {code[6]}"] * bool(code[6])
    )
    return " ".join([f"{number:4} {out}{entry.name}", *inputs, *more])


def _takes_rows(out: np.ndarray, kind: Any) -> bool:
    """Whether rows of it may be written, one after another."""
    return out.dtype == kind and out.flags.writeable and (out.strides[-2] > 0 or out.size == 0)


def _address(array: np.ndarray) -> int:
    return array.__array_interface__["data"][0]
