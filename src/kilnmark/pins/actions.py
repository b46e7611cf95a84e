"""Pinning a version, and returning to one."""

from kilncore.errors import KilnError
from kilnmark.pieces import actions as pieces
from kilnmark.pieces.models import Piece
from kilnmark.pins.models import Pin

MOST = 60
LOOKS, FARTHEST_BACK = ("Recipe: ", "Direction: "), 40  # how labels of looks begin; states


def pin(piece: Piece, name: str) -> Pin:
    """The piece as it stands, under a name; without one, that of the look it was given last."""
    if piece.pins.here().count() >= MOST:
        raise KilnError(f"A piece has {MOST} pinned versions at most. Unpin some of them first.")
    return Pin.objects.create(
        piece=piece, state=piece.head, name=name.strip()[:60] or _free(piece, _look(piece))
    )


def _look(piece: Piece) -> str:
    """The name of the recipe or direction that the piece was given last; '' of none."""
    state = piece.head
    for _ in range(FARTHEST_BACK):
        if state is None:
            break
        for begin in LOOKS:
            if state.label.startswith(begin):
                return state.label.removeprefix(begin)[:50]
        state = state.parent
    return ""


def _free(piece: Piece, name: str) -> str:
    """The name, or with a number behind it; without one, the number of the version."""
    known = set(piece.pins.values_list("name", flat=True))
    if name and name not in known:
        return name
    number = 2 if name else piece.pins.count() + 1
    while f"{name or 'Version'} {number}" in known:
        number += 1
    return f"{name or 'Version'} {number}"


def restore(found: Pin, version: int, token: str | None = None) -> Piece:
    """The piece as it was pinned, as one more state that can be undone; Stale if `version` is not
    the newest.
    """
    return pieces.become(
        found.piece, version, found.state.document, f"Back to “{found.name}”", token
    )
