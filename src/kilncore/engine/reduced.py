"""A copy of a piece with fewer pixels, for small pictures of what would take long to measure.

An aim is solved, and a floor kept, over as many pixels as there are.

All sizes are as they were in print. What a wall shows of it is a little softer than the piece, and
its finest specks are not there; a share that is aimed at is the same.
"""

import math

from kilncore import edits
from kilncore.document import Piece
from kilncore.engine.plans import plan_of
from kilncore.errors import KilnError

WORTH = 0.8  # a copy that is larger saves little
LEAST_PPI = 10


def reduced(piece: Piece, part: str, pixels: float, least: float) -> Piece:
    """The piece so small that a part of it has about so many pixels; the piece itself, if that is
    not worth it. least : of its size, below which its picture would be soft.
    """
    plan = plan_of(piece)
    box = plan.page if part in ("ground", "piece") else plan.extent(part)
    factor = max(math.sqrt(pixels / max(box.width * box.height, 1)), least, LEAST_PPI / piece.ppi)
    if factor > WORTH:
        return piece
    smaller = [{"op": "set_ppi", "ppi": piece.ppi * factor, "resample": True}]
    try:
        return edits.apply(piece, smaller)
    except KilnError:
        return piece  # what cannot be so small is drawn as it is
