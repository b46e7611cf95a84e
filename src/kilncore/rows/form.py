"""The form of a picture: which rows it has and what they hold.

It is a property of a node, known before anything of it is drawn, and the same in every box and every tile. What is
stored, loaded or handed on is held against it.
"""

from dataclasses import dataclass, replace

from kilncore.rows.picture import Picture, tinted
from kilncore.rows.tape import Row, Tape


class WrongForm(AssertionError):
    """A picture is not what its node said it would be: a fault of the program, never of a document."""


@dataclass(frozen=True)
class Form:
    """alpha : False if it covers every pixel whole. premultiplied : of its colour. tint : its one straight colour, if it has
    no other; then it is alpha alone. firm : whether it says how solid it is (see `Picture`)."""

    alpha: bool = True
    premultiplied: bool = True
    tint: tuple[float, ...] | None = None
    firm: bool = False

    @property
    def planes(self) -> int:
        """How many planes it is stored in."""
        return (1 if self.tint else 3 + self.alpha) + self.firm

    def fitted(self, picture: Picture) -> Picture:
        """The picture in this form; WrongForm if it shows what the form has no room for."""
        lacks = picture.alpha is not None and not self.alpha, picture.firm is not None and not self.firm
        if any(lacks) or self.tint is not None and picture.tint != self.tint:
            raise WrongForm(f"{self} has no room for {picture}")
        if not self.alpha:
            return replace(picture, tint=None)
        if picture.alpha is None:
            picture = picture.laid() if self.premultiplied else replace(picture, alpha=picture.tape.constant(1))
        picture = picture.laid() if self.premultiplied else picture.straight()
        firm = (picture.firm or picture.alpha) if self.firm else None
        return replace(picture, tint=self.tint, firm=firm)

    def rows(self, picture: Picture) -> tuple[Row, ...]:
        """The rows that are stored of a picture of this form."""
        rows = (picture.alpha,) if self.tint else picture.planes
        return (*rows, picture.firm) if self.firm else rows

    def picture(self, tape: Tape, rows: tuple[Row, ...]) -> Picture:
        """The picture again, from those rows."""
        if len(rows) != self.planes:
            raise WrongForm(f"{len(rows)} rows are not {self}")
        rows, firm = (rows[:-1], rows[-1]) if self.firm else (rows, None)
        if self.tint:
            return replace(tinted(tape, rows[0], self.tint), firm=firm)
        return Picture(tape, tuple(rows[:3]), *rows[3:], premultiplied=self.premultiplied, firm=firm)


OPAQUE = Form(alpha=False, premultiplied=False)


class Forms:
    """The forms of nodes, each worked out once from those of the nodes it is drawn from."""

    def __init__(self, assets):
        self._assets, self._known = assets, {}

    def of(self, node) -> Form:
        waiting = [node]
        while waiting:
            top = waiting[-1]
            missing = [source for source in top.drawn_from if source.key not in self._known]
            if missing:
                waiting += missing
                continue
            self._known[top.key] = top.form(self._assets, *(self._known[source.key] for source in top.drawn_from))
            waiting.pop()
        return self._known[node.key]
