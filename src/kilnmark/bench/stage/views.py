"""What the stage shows of a piece."""

from django.views.decorators.http import require_POST

from kilncore.engine.see_through import see_through
from kilncore.engine.without import without_something
from kilnmark import door
from kilnmark.bench import at_rest, pictures
from kilnmark.bench.changes.unsaved import edited
from kilnmark.bench.first import shown_first
from kilnmark.bench.own import newest, own_piece, stale


@require_POST
def stage(request, piece_id):
    """A picture of the stage: the stored piece, with edits that are not saved yet, as a draft or
    exact.
    """
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.Stage)
    if asked.version != piece.version:
        return stale()
    document, files = edited(request, piece, asked.edits)
    document = see_through(document, asked.see) if asked.see else document
    document = without_something(document, asked.without) if asked.without else document
    point = asked.point and pictures.point_at(document, asked.point.part, asked.point.number)
    exact, view = asked.quality == "exact", pictures.view_of(asked.view)
    recall = pictures.recall_of(piece.pk)  # for a draft what was measured a moment ago will do
    owner = None if asked.edits else request.user.pk

    def draw(outdated):
        told = document, view, exact, point, outdated, files, recall, owner
        if exact:
            drawn = pictures.stage(*told)
        else:
            with shown_first(piece.pk):
                drawn = pictures.stage(*told)
        if exact and owner and point is None:
            at_rest.get_ready(document, view, outdated, recall)
        return drawn

    return newest(request, asked, draw)


@require_POST
def lifted(request, piece_id):
    """Marks of the stored piece lifted off it, in one picture: what lies beneath, and below that
    the cut-out.
    """
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.Lifted)
    if asked.version != piece.version:
        return stale()
    view, recall = pictures.view_of(asked.view), pictures.recall_of(piece.pk)
    return newest(
        request,
        asked,
        lambda outdated: pictures.lifted(piece.document, asked.marks, view, outdated, recall),
    )
