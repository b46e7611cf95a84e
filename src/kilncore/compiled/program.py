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
from kilncore.compiled.lines import NUMBER, Lines, address_of
from kilncore.compiled.operation import OPERATIONS
from kilncore.compiled.register import Register
from kilncore.compiled.register_allocation import NO_REGISTER, UNSOUND, allocated
from kilncore.geometry.box import Box

__all__ = ["STRETCH_PX", "Program", "Register"]

# a tile of the engine with some margin: starting anew costs more than the nearest memory gains
STRETCH_PX = 720
ALIGNED = 64  # bytes: a stretch begins where a vector does
REPEATED = {np.dtype(np.uint8): "repeat_uint8", np.dtype(np.uint16): "repeat_uint16"}
LOADED = {
    np.dtype(np.uint8): "load_uint8",
    np.dtype(np.uint16): "load_uint16",
    np.dtype(np.int16): "load_int16",
}


class Program(Lines):
    """What is done with the pixels of a box. An operation of the table is written by `op`, by
    `mutable` for a register that may be changed, or by `assign` to change one. What is written
    twice is done once.

    box : the output px that it works on. skips : whether blocks may be left out where they are
    blank; then nobody outside can share what is inside. drawn : pictures and planes that are in it
    already, by their nodes' keys.
    """

    def __init__(self, box: Box, skips: bool = True):
        super().__init__(box)
        self.skips, self.drawn = skips, {}
        self._sources, self._skips, self._does_something = {}, [], False

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
        """Do all that was written, once. Threads may run programs of their own at once."""
        if self._over:
            raise ValueError("this program has run")
        if self._does_something:
            self._run()
        self._let_go()

    def _let_go(self) -> None:
        """Forget the arrays that it worked on: its registers name it, so that by itself it would
        stay, and they with it, until circles are looked for.
        """
        self._over, self.drawn = True, {}
        self._made, self._sources, self._alive = {}, {}, []

    def _run(self) -> None:
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
        first = address_of(scratch)
        interpreter.run(
            address_of(code),
            len(code),
            address_of(numbers),
            address_of(descriptors),
            first + -first % ALIGNED,
            row_bytes,
            self.box.width,
            self.box.height,
            stretch,
        )


def _takes_rows(out: np.ndarray, kind: Any) -> bool:
    """Whether rows of it may be written, one after another."""
    return out.dtype == kind and out.flags.writeable and (out.strides[-2] > 0 or out.size == 0)
