"""The tabs above the strip: the parts of a piece."""

from dataclasses import dataclass

from kilncore.document import Piece
from kilnmark.pieces.names import name_of


@dataclass(frozen=True)
class Tab:
    """holder : the group it is in, '' if in none. depth : how many groups it is in. place,
    count : of it in what holds it, of how many.
    """

    id: str
    name: str
    holder: str = ""
    depth: int = 0
    place: int = 0
    count: int = 0
    group: bool = False
    locked: bool = False
    left_out: bool = False

    @property
    def below(self) -> int:
        return self.place - 1

    @property
    def above(self) -> int:
        return self.place + 1

    @property
    def is_mark(self) -> bool:
        return self.id not in ("ground", "piece")


def tabs(piece: Piece) -> list[Tab]:
    """Of all parts in stacking order, bottom up, a group before its members."""
    return [Tab("ground", "Ground"), *_tabs(piece.stack), Tab("piece", "Whole piece")]


def _tabs(items, holder: str = "", depth: int = 0):
    for place, item in enumerate(items):
        members = getattr(item, "members", ())
        yield Tab(
            item.id,
            name_of(item),
            holder,
            depth,
            place,
            len(items),
            bool(members),
            item.locked,
            item.left_out,
        )
        yield from _tabs(members, item.id, depth + 1)
