from django.http import FileResponse, Http404, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_http_methods, require_POST

from kilncore.document import dump
from kilnmark import door
from kilnmark.bench.own import stale
from kilnmark.firings import actions, kiln
from kilnmark.firings.models import Firing
from kilnmark.pieces.models import Piece


def listing(request):
    return render(
        request, "firings/listing.html", {"firings": request.user.firings.defer("document")[:100]}
    )


@require_http_methods(["GET", "POST"])
def ask(request, piece_id):
    """Put a piece in line for the kiln; a GET tells of what was last asked of it."""
    piece = get_object_or_404(Piece.objects.here(), pk=piece_id, owner=request.user)
    if request.method == "GET":
        return JsonResponse(_last(piece))
    asked = door.asked(request, door.Fire)
    if asked.version not in (None, piece.version):
        return stale()
    firing = actions.ask(
        piece, asked.with_ground, file_format=asked.file_format, content=asked.content
    )
    kiln.wake()
    return JsonResponse(_status(firing), status=201)


def _last(piece: Piece) -> dict:
    """current : whether it was fired of what the piece is now."""
    firing = piece.firings.filter(of_direction=False).order_by("-asked").first()
    if firing is None:
        return {}
    current = firing.document == dump(piece.document) and firing.path.exists()
    return _status(firing) | {
        "current": current,
        "with_ground": firing.with_ground,
        "file_format": firing.file_format,
        "content": firing.content,
    }


def status(request, firing_id):
    return JsonResponse(_status(_own(request, firing_id)))


@require_POST
def stop(request, firing_id):
    firing = _own(request, firing_id)
    actions.stop(firing)
    return JsonResponse(_status(_own(request, firing_id)))


def file(request, firing_id):
    firing = _own(request, firing_id)
    if firing.stage != Firing.Stage.DONE or not firing.path.exists():
        raise Http404
    return FileResponse(
        firing.path.open("rb"),
        as_attachment=True,
        filename=firing.file_name,
        content_type=firing.media_type,
    )


def _own(request, firing_id) -> Firing:
    return get_object_or_404(Firing, pk=firing_id, owner=request.user)


def _status(firing: Firing) -> dict:
    return {
        "id": str(firing.id),
        "stage": firing.stage,
        "stage_label": firing.get_stage_display(),
        "progress": firing.progress,
        "seconds": firing.seconds,
        "bytes": firing.bytes,
        "message": firing.message,
        "format_title": firing.file_title,
    }
