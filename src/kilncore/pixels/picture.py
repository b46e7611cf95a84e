"""A picture in a program: registers of its colour, and of its alpha where it is not opaque."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import Box
from kilncore.pixels.colour import LUMA

FAINT = 1e-6  # of alpha: less is nothing


@dataclass(frozen=True)
class Picture:
    """colour : red, green and blue, straight unless `premultiplied`. alpha : None if it is 1
    everywhere. tint : the one straight colour of a picture that has no other. solidity : in a
    draft, how solid the finished picture is where there is any of it, 0..1; None if that is no more
    than alpha says.
    """

    program: Program
    colour: tuple[Register, ...]  # three
    alpha: Register | None = None
    premultiplied: bool = False
    tint: tuple[float, ...] | None = None
    solidity: Register | None = None

    @property
    def covered(self) -> Register:
        """Its alpha, of a picture that has one."""
        assert self.alpha is not None
        return self.alpha

    def unpremultiply(self) -> "Picture":
        """With straight colour, 0 where next to nothing is there."""
        if not self.premultiplied:
            return self
        inverse = self.program.op("inverse", self.covered)
        return replace(
            self,
            colour=tuple((row * inverse).clamped() for row in self.colour),
            premultiplied=False,
        )

    def premultiply(self) -> "Picture":
        """Premultiplied, with alpha."""
        if self.premultiplied:
            return self
        if self.alpha is None:
            return Picture(self.program, self.colour, self.program.constant(1), premultiplied=True)
        return replace(
            self,
            colour=tuple(row * self.alpha for row in self.colour),
            premultiplied=True,
            tint=None,
        )

    def clamped(self) -> "Picture":
        """Cut to what a picture may be: alpha to 0..1, colour to 0..1, or to 0..alpha if
        premultiplied. What is not a number becomes 0."""
        alpha = self.alpha and self.alpha.clamped()
        if self.premultiplied and alpha is not None:
            colour = tuple(self.program.op("clamp_to", row, alpha) for row in self.colour)
        else:
            colour = self.colour if self.tint else tuple(row.clamped() for row in self.colour)
        return replace(
            self, colour=colour, alpha=alpha, solidity=self.solidity and self.solidity.clamped()
        )

    def tones(self) -> Register:
        """The luma of its straight colour; 0 where next to nothing is there."""
        return self.where_there(
            self.program.op("weighted", *self.unpremultiply().colour, numbers=LUMA)
        )

    def seen(self) -> tuple[Register, ...]:
        """Its straight colour, 0 where next to nothing is there, whatever the registers
        hold there.
        """
        return tuple(self.where_there(row) for row in self.unpremultiply().colour)

    def where_there(self, row: Register) -> Register:
        """A register, 0 where next to nothing of the picture is there."""
        if self.alpha is None:
            return row
        return self.program.op(
            "select", self.alpha, self.program.constant(FAINT), self.program.constant(0), row
        )

    def luma(self) -> Register:
        """Luma times alpha."""
        picture = self if self.alpha is None else self.premultiply()
        return self.program.op("weighted", *picture.colour, numbers=LUMA)

    @property
    def planes(self) -> tuple[Register, ...]:
        """Its registers: colour, and alpha if it has it."""
        return self.colour if self.alpha is None else (*self.colour, self.alpha)

    def copied(self) -> "Picture":
        """In registers of its own, which may be written over."""
        colour = tuple(self.program.mutable("copy", row) for row in self.colour)
        alpha, solidity = (
            row and self.program.mutable("copy", row) for row in (self.alpha, self.solidity)
        )
        return Picture(self.program, colour, alpha, self.premultiplied, solidity=solidity)

    def becomes(self, other: "Picture") -> None:
        """Write another picture of the same form over this one."""
        for row, source in zip(self._rows, other._rows, strict=True):
            self.program.assign("copy", row, source)

    @property
    def _rows(self) -> tuple[Register, ...]:
        return self.planes if self.solidity is None else (*self.planes, self.solidity)


def tinted(program: Program, alpha: Register, colour: tuple[float, ...]) -> Picture:
    """A picture of one straight colour."""
    return Picture(program, tuple(program.constant(c) for c in colour), alpha, tint=colour)


def nothing(program: Program, tint: tuple[float, ...] | None = None) -> Picture:
    """A transparent picture."""
    nought = program.constant(0)
    return (
        tinted(program, nought, tint)
        if tint
        else Picture(program, (nought,) * 3, nought, premultiplied=True)
    )


def of_planes(program: Program, planes: Any, have: Box | None = None) -> Picture:
    """Arrays or registers as a picture: one plane of grey, three of colour, or four with alpha,
    premultiplied.
    """
    rows = program.load(planes, have) if isinstance(planes, np.ndarray) else planes
    rows = (rows,) if isinstance(rows, Register) else rows
    colour = tuple(rows[:3]) if len(rows) > 1 else (rows[0],) * 3
    return (
        Picture(program, colour, rows[3], premultiplied=True)
        if len(rows) == 4
        else Picture(program, colour)
    )


def drawn(work: Callable, *planes: np.ndarray) -> np.ndarray:
    """work(*pictures), a picture, of (4, H, W) premultiplied arrays of one size; (4, H, W)."""
    program = Program(Box(0, 0, planes[0].shape[2], planes[0].shape[1]))
    out = program.planes(
        work(*(of_planes(program, array) for array in planes)).premultiply().planes
    )
    program.run()
    return out
