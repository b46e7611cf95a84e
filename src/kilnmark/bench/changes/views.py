"""Every change of a piece, and how it is now."""

from django.http import HttpResponse, JsonResponse
from django.views.decorators.http import require_GET, require_POST

from kilncore.document import dump
from kilnmark import door
from kilnmark.bench.changes.filling_in import filled_in
from kilnmark.bench.changes.moved import moved
from kilnmark.bench.changes.snapshot import snapshot
from kilnmark.bench.own import own_piece
from kilnmark.pieces import actions


@require_GET
def snapshot_view(request, piece_id):
    """The newest state, for a page that knows an older one."""
    return JsonResponse(snapshot(own_piece(request, piece_id)))


@require_POST
def change(request, piece_id):
    return moved(
        request,
        piece_id,
        door.Change,
        lambda piece, asked: actions.change(
            piece,
            asked.version,
            asked.edits,
            asked.label,
            asked.token,
            asked.visit,
            fill=filled_in,
        ),
    )


def _stepped(name: str):
    """A view that goes one state back or on, as the action of that name does."""

    @require_POST
    def view(request, piece_id):
        step = getattr(actions, name)
        return moved(
            request,
            piece_id,
            door.Step,
            lambda piece, asked: step(piece, asked.version, asked.token),
        )

    return view


undo, redo = _stepped("undo"), _stepped("redo")


@require_GET
def document_file(request, piece_id):
    piece = own_piece(request, piece_id)
    return HttpResponse(
        dump(piece.document),
        content_type="application/json",
        headers={"Content-Disposition": 'attachment; filename="piece.kilnmark.json"'},
    )
