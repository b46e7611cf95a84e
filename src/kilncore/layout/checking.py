"""Whether a piece can be laid out at all: asked before it is stored, so that what is stored can be
opened.
"""

import math
from typing import Any

from kilncore.document import Piece
from kilncore.errors import KilnError
from kilncore.layout.layout import Layout

FARTHEST_PX = 1e9


def check_layout(piece: Piece) -> None:
    """KilnError, naming the item, if one of them cannot be laid anywhere."""
    layout = Layout(piece)
    for item in piece.items():
        try:
            box, frame = layout.box(item), layout.frame(item)
            numbers = [frame.x, frame.y, frame.unit_px, box.width, box.height]
            numbers += [one for corner in box.corners() for one in corner]
            if frame.projection:
                numbers += list(frame.projection.flat_of([box.corners()[0]]).ravel())
        except (ArithmeticError, ValueError) as error:
            raise _unlaid(item, str(error)) from error
        if not all(math.isfinite(one) and abs(one) < FARTHEST_PX for one in numbers):
            raise _unlaid(item, "farther than a thousand million px")


def _unlaid(item: Any, detail: str) -> KilnError:
    name = item.name or getattr(getattr(item, "art", None), "text", "")[:40]
    return KilnError(
        f"“{name or 'A mark'}” would be too thin, too small or too far away to be drawn. "
        "It was kept as it was; set its size, place or corners less extreme.",
        detail[:200],
    )
