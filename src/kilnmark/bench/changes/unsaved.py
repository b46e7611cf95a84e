"""A piece with edits that are not saved yet."""

from kilncore import edits
from kilncore.document import Piece as Document
from kilnmark.bench.changes.filling_in import filled_in
from kilnmark.pieces import owned
from kilnmark.pieces.models import Piece
from kilnmark.storage import assets


def edited(request, piece: Piece, changes: list[dict]) -> tuple[Document, owned.Brought]:
    """(document, files) of a piece with edits that are not saved yet."""
    files = owned.Brought(assets())
    changes = filled_in(piece, changes)
    document = edits.apply(piece.document, changes, files, whole=False)
    if owned.names_files(changes) or files.names:
        owned.check_owned(request.user, document, files.names)
    return document, files
