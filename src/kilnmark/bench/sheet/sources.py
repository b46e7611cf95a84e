"""What an operation of a chain is given, as a small picture."""

import json

from kilncore.document import Piece
from kilncore.errors import KilnError
from kilncore.model.files import PictureHash
from kilnmark.pictures import png_of
from kilnmark.storage import assets

WIDE = 320  # px, at least, of the longer side
GONE = "This picture is no longer on the piece."


def before(piece: Piece, path: str, operation: str | None) -> bytes:
    """PNG of the picture at a path, prepared up to an operation of its chain; by the whole chain if
    it is None.
    """
    holder = _at(piece, path)
    chain = holder.chain
    if operation is not None:
        ids = [one.id for one in chain]
        if operation not in ids:
            raise KilnError(GONE)
        chain = chain[: ids.index(operation)]
    level = max(0, (max(holder.width, holder.height) // WIDE).bit_length() - 1)
    planes = assets().prepared(holder.hash, chain, min(level, 6)).planes
    return png_of(planes)


def _at(piece: Piece, path: str):
    try:
        keys = json.loads(path)
        found = piece
        for key in keys:
            found = _inner(found, key)
    except (
        ValueError,
        TypeError,
        AttributeError,
        LookupError,
        StopIteration,
        RecursionError,
    ) as error:
        raise KilnError(GONE, str(error)[:100]) from None
    if not isinstance(getattr(found, "hash", None), PictureHash):
        raise KilnError(GONE)
    return found


def _inner(found, key: str):
    """A field of a model, or the one of a list that has this id."""
    if isinstance(found, tuple):
        return next(one for one in found if one.id == key)
    if key not in type(found).model_fields:
        raise KeyError(key)
    return getattr(found, key)
