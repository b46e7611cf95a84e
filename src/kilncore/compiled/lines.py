"""The lines of a program: an operation, the registers it reads and the one it makes, its numbers,
and what it finds in memory. Each is checked when it is written; what is written twice is done once.
"""

import numpy as np

from kilncore.compiled.listing import listing
from kilncore.compiled.operation import OPERATIONS
from kilncore.compiled.register import Register
from kilncore.compiled.register_allocation import NO_REGISTER
from kilncore.geometry.box import Box

ZEROS, NO_REGISTERS = (0,) * 8, (NO_REGISTER,) * 4
NUMBER = {name: number for number, name in enumerate(OPERATIONS)}
FARTHEST = 2**40  # px: no box lies farther out
BYTES_AT_MOST = 2**40


class Lines:
    """What is done with the pixels of a box, so far. box : the output px that it works on."""

    def __init__(self, box: Box):
        if box.empty or max(map(abs, box)) > FARTHEST or 4 * box.width * box.height > BYTES_AT_MOST:
            raise ValueError(f"{box} is no box for a program")
        self.box = box
        # flat: many small tuples would wake the collector
        self._code: list[int] = []
        self._numbers: list[float] = []
        self._descriptors: list[int] = [0] * 8
        self._registers, self._made, self._alive = 0, {}, []
        self._over = False  # it has run: what it worked on may be gone

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
        if self._over:
            raise ValueError("this program has run")
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

    def _address(self, array: np.ndarray) -> int:
        self._alive.append(array)
        return address_of(array)

    def __str__(self) -> str:
        return listing(self._code, self._numbers)


def address_of(array: np.ndarray) -> int:
    """Where an array begins in memory. Whoever uses it keeps the array alive."""
    return array.__array_interface__["data"][0]
