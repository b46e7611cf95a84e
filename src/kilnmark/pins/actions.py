"""Pinning a version, and returning to one."""

from kilncore.errors import KilnError
from kilnmark.pieces import actions as pieces
from kilnmark.pieces.models import Piece
from kilnmark.pins.models import Pin

MOST = 60


def pin(piece: Piece, name: str) -> Pin:
    """The piece as it stands, under a name."""
    if piece.pins.here().count() >= MOST:
        raise KilnError(f"A piece has {MOST} pinned versions at most. Unpin some of them first.")
    count = piece.pins.count() + 1
    return Pin.objects.create(
        piece=piece, state=piece.head, name=name.strip()[:60] or f"Version {count}"
    )


def restore(found: Pin, version: int, token: str | None = None) -> Piece:
    """The piece as it was pinned, as one more state that can be undone; Stale if `version` is not
    the newest.
    """
    return pieces.become(
        found.piece, version, found.state.document, f"Back to “{found.name}”", token
    )
