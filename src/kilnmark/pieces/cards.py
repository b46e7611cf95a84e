"""The picture of a state of a piece, as its page of pieces and its history show it. Each is drawn
once, and kept on disk by the state's content and the version that drew it.
"""

from functools import cache

from django.conf import settings

from kilncore import engine
from kilncore.document import Piece
from kilncore.errors import KilnError
from kilncore.system.code_version import VERSION
from kilnmark.kept_pictures import KeptPictures
from kilnmark.pictures import PICTURES, draft
from kilnmark.pieces.models import State
from kilnmark.storage import assets

CARD_SIZE = (640, 440)
BUDGET = 256 * 2**20  # bytes on disk
FARTHEST_BACK = 20  # states


@cache
def kept() -> KeptPictures:
    """Where they are kept."""
    return KeptPictures(settings.DATA / "pictures", BUDGET)


def card(state: State) -> tuple[bytes, str]:
    """(bytes, media type) of a state's picture, drawn once."""
    return PICTURES.get(("card", state.digest), lambda: known(state) or _made(state))


def known(state: State) -> tuple[bytes, str] | None:
    """The same if it was drawn before; None if it was not."""
    return kept().find(_name(state))


def last_known(state: State) -> State | None:
    """The last state up to this one whose picture was drawn; None if none of the last few was."""
    for _ in range(FARTHEST_BACK):
        if state is None or _name(state) in kept():
            return state
        state = state.parent
    return None


def draw_all(states) -> None:
    """Make sure that these have their pictures; one that cannot be drawn goes without."""
    for state in states:
        try:
            card(state)
        except KilnError:
            continue


def _name(state: State) -> str:
    return f"{state.digest}-{VERSION}"


def _made(state: State) -> tuple[bytes, str]:
    return kept().put(_name(state), _card(state.document))


def _card(piece: Piece) -> tuple[bytes, str]:
    scale = min(1.0, *(room / side for room, side in zip(CARD_SIZE, piece.size_px, strict=True)))
    return draft(engine.pixels(piece, None, scale, assets()))
