"""A picture on a tape: rows of its colour, and of its alpha where it is not opaque."""

from dataclasses import dataclass, replace

import numpy as np

from kilncore.box import Box
from kilncore.colour import LUMA
from kilncore.rows.tape import Row, Tape

FAINT = 1e-6  # of alpha: less is nothing


@dataclass(frozen=True)
class Picture:
    """colour : red, green and blue, straight unless `premultiplied`. alpha : None if it is 1 everywhere. tint : the one
    straight colour of a picture that has no other. firm : in a draft, how solid the finished picture is where there is any
    of it, 0..1; None if that is no more than alpha says."""

    tape: Tape
    colour: tuple[Row, Row, Row]
    alpha: Row | None = None
    premultiplied: bool = False
    tint: tuple[float, ...] | None = None
    firm: Row | None = None

    def straight(self) -> "Picture":
        """With straight colour, 0 where next to nothing is there."""
        if not self.premultiplied:
            return self
        inverse = self.tape.row("inverse", self.alpha)
        return replace(self, colour=tuple((row * inverse).held() for row in self.colour), premultiplied=False)

    def laid(self) -> "Picture":
        """Premultiplied, with alpha."""
        if self.premultiplied:
            return self
        if self.alpha is None:
            return Picture(self.tape, self.colour, self.tape.constant(1), premultiplied=True)
        return replace(self, colour=tuple(row * self.alpha for row in self.colour), premultiplied=True, tint=None)

    def held(self) -> "Picture":
        """Cut to what a picture may be: alpha to 0..1, colour to 0..1, or to 0..alpha if premultiplied. What is not a number
        becomes 0."""
        alpha = self.alpha and self.alpha.held()
        if self.premultiplied:
            colour = tuple(self.tape.row("clamp", row, alpha) for row in self.colour)
        else:
            colour = self.colour if self.tint else tuple(row.held() for row in self.colour)
        return replace(self, colour=colour, alpha=alpha, firm=self.firm and self.firm.held())

    def tones(self) -> Row:
        """The luma of its straight colour; 0 where next to nothing is there."""
        return self._where_there(self.tape.row("weighted", *self.straight().colour, numbers=LUMA))

    def seen(self) -> tuple[Row, Row, Row]:
        """Its straight colour, 0 where next to nothing is there, whatever the rows hold there."""
        return tuple(self._where_there(row) for row in self.straight().colour)

    def _where_there(self, row: Row) -> Row:
        if self.alpha is None:
            return row
        return self.tape.row("chosen", self.alpha, self.tape.constant(FAINT), self.tape.constant(0), row)

    def luma(self) -> Row:
        """Luma times alpha."""
        picture = self if self.alpha is None else self.laid()
        return self.tape.row("weighted", *picture.colour, numbers=LUMA)

    @property
    def planes(self) -> tuple[Row, ...]:
        return self.colour if self.alpha is None else (*self.colour, self.alpha)

    def copied(self) -> "Picture":
        """In rows of its own, which may be written over."""
        colour = tuple(self.tape.own("copy", row) for row in self.colour)
        alpha, firm = (row and self.tape.own("copy", row) for row in (self.alpha, self.firm))
        return Picture(self.tape, colour, alpha, self.premultiplied, firm=firm)

    def becomes(self, other: "Picture") -> None:
        """Write another picture of the same form over this one."""
        for row, source in zip(self._rows, other._rows, strict=True):
            self.tape.into("copy", row, source)

    @property
    def _rows(self) -> tuple[Row, ...]:
        return self.planes if self.firm is None else (*self.planes, self.firm)


def tinted(tape: Tape, alpha: Row, colour) -> Picture:
    """A picture of one straight colour."""
    return Picture(tape, tuple(tape.constant(c) for c in colour), alpha, tint=colour)


def nothing(tape: Tape, tint: tuple[float, ...] | None = None) -> Picture:
    """A transparent picture."""
    nought = tape.constant(0)
    return tinted(tape, nought, tint) if tint else Picture(tape, (nought,) * 3, nought, premultiplied=True)


def of_planes(tape: Tape, planes, have: Box | None = None) -> Picture:
    """Arrays or rows as a picture: one plane of grey, three of colour, or four with alpha, premultiplied."""
    rows = tape.load(planes, have) if isinstance(planes, np.ndarray) else planes
    rows = (rows,) if isinstance(rows, Row) else rows
    colour = tuple(rows[:3]) if len(rows) > 1 else (rows[0],) * 3
    return Picture(tape, colour, rows[3], premultiplied=True) if len(rows) == 4 else Picture(tape, colour)


def drawn(work, *planes: np.ndarray) -> np.ndarray:
    """work(*pictures), a picture, of (4, H, W) premultiplied arrays of one size; (4, H, W)."""
    tape = Tape(Box(0, 0, planes[0].shape[2], planes[0].shape[1]))
    out = tape.planes(work(*(of_planes(tape, array) for array in planes)).laid().planes)
    tape.run()
    return out
