"""The picture of a piece on the page of pieces."""

from kilncore import engine
from kilncore.document import Piece
from kilnmark.pictures import PICTURES, draft
from kilnmark.pieces.models import State
from kilnmark.storage import assets

CARD_SIZE = (640, 440)


def card(state: State) -> tuple[bytes, str]:
    """(bytes, media type) of a state's picture, drawn once."""
    return PICTURES.get(("card", state.digest), lambda: _card(state.document))


def _card(piece: Piece) -> tuple[bytes, str]:
    scale = min(1.0, *(room / side for room, side in zip(CARD_SIZE, piece.size_px, strict=True)))
    return draft(engine.pixels(piece, None, scale, assets()))
