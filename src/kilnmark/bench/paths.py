"""Where things lie in a document, as the browser names them."""

import json

from kilncore.document import Piece


def treatment_path(piece: Piece, part: str) -> str:
    """Where the treatment of a part lies in the document, as JSON."""
    return json.dumps([*piece.way_to(part), "treatment"])
