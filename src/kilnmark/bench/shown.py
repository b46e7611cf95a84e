"""What the stage shows: the piece, and the layers over it."""

from django.views.decorators.http import require_POST

from kilncore import edits
from kilncore.engine.followed import torn_at
from kilncore.engine.held_back import held_back
from kilncore.engine.see_through import see_through
from kilncore.engine.without import without_something
from kilncore.output.preview import encode
from kilnmark import door
from kilnmark.bench import (
    pictures,
    strip,
)
from kilnmark.bench.filling_in import filled_in
from kilnmark.bench.hatching import LOOKS
from kilnmark.bench.own import newest, own_piece, stale
from kilnmark.pieces import actions
from kilnmark.pieces.models import Piece
from kilnmark.storage import assets


@require_POST
def stage(request, piece_id):
    """A picture of the stage: the stored piece, with edits that are not saved yet, as a draft or
    exact.
    """
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.Stage)
    if asked.version != piece.version:
        return stale()
    document, files = _edited(request, piece, asked.edits)
    document = see_through(document, asked.see) if asked.see else document
    document = without_something(document, asked.without) if asked.without else document
    point = asked.point and strip.point_at(document, asked.point.part, asked.point.number)
    exact, view = asked.quality == "exact", pictures.view_of(asked.view)
    # while a hand moves something, what was measured a moment ago will do
    recall = pictures.recall_of(piece.pk) if exact or asked.edits else None
    return newest(
        request,
        asked,
        lambda outdated: pictures.stage(document, view, exact, point, outdated, files, recall),
    )


def _edited(request, piece: Piece, changes: list[dict]):
    """(document, files) of a piece with edits that are not saved yet."""
    files = actions.Brought(assets())
    changes = filled_in(piece, changes)
    document = edits.apply(piece.document, changes, files, whole=False)
    if actions.names_files(changes) or files.names:
        actions.check_owned(request.user, document, files.names)
    return document, files


@require_POST
def held_view(request, piece_id):
    """What the landing of a step, or of a mark, holds back, or where a mark is torn: a layer to be
    laid over the stage."""
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.HeldBack)
    if asked.version != piece.version:
        return stale()
    document, files = _edited(request, piece, asked.edits)
    view = pictures.view_of(asked.view)

    def draw(outdated):
        if asked.of == "torn":
            found = torn_at(document, asked.step or "", view.region, view.scale, files)
        else:
            region = (asked.part, asked.step, view.region, view.scale)
            found = held_back(document, *region, files, cancelled=outdated)
        return encode(LOOKS[asked.look](*found), lossless=True)

    return newest(request, asked, draw)
