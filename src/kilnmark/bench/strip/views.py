"""The strip, and its pictures."""

from django.shortcuts import render
from django.views.decorators.http import require_GET

from kilnmark.bench import pictures
from kilnmark.bench.first import let_by
from kilnmark.bench.own import own_piece
from kilnmark.bench.paths import treatment_path
from kilnmark.bench.strip import frames
from kilnmark.bench.strip.tabs import tabs
from kilnmark.private import kept_by_key


@require_GET
def strip_view(request, piece_id):
    piece = own_piece(request, piece_id)
    document, part = piece.document, request.GET.get("part", "ground")
    told = request.GET.get("area", "")
    area = frames.area_of(told)
    return render(
        request,
        "bench/strip/strip.html",
        {
            "piece": piece,
            "part": part,
            "chosen": request.GET.get("step", "bare"),
            "tabs": tabs(document),
            "frames": frames.frames(document, part, area),
            "area": told if area else "",
            "offered": frames.offered(part),
            "treatment_path": treatment_path(document, part),
        },
    )


@require_GET
def strip_picture(request, piece_id, part, number, key):
    """A picture that is there already is handed out by its key; any other is drawn, of the piece as
    it stands now.
    """
    piece, alone = own_piece(request, piece_id), "alone" in request.GET
    known = pictures.found(request.user.pk, key, alone)
    if known:
        return kept_by_key(*known)
    let_by(piece.pk)
    point = pictures.point_at(piece.document, part, number)
    area = frames.area_of(request.GET.get("area", ""))
    drawn = pictures.strip_picture(request.user.pk, piece.head, point, alone, area)
    return kept_by_key(*drawn, fresh=key == pictures.point_key(piece.document, point, area))
