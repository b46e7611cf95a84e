"""Marks that come onto a piece, and art that is replaced."""

from django.http import JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET, require_POST

from kilnmark import door
from kilnmark.bench.changes.moved import moved
from kilnmark.bench.changes.snapshot import snapshot
from kilnmark.bench.marks import coming
from kilnmark.bench.own import decimal, number, own_piece, stale
from kilnmark.pieces import actions, artworks, bringing
from kilnmark.uploads import uploads


@require_POST
def add_lettering(request, piece_id):
    return moved(
        request,
        piece_id,
        door.Words,
        lambda piece, asked: actions.change(
            piece,
            asked.version,
            lambda document: [{"op": "add_mark", "mark": coming.lettering(document, asked.text)}],
            "Mark brought in",
            asked.token,
        ),
    )


@require_POST
def bring_in(request, piece_id):
    """Files that were chosen, dropped or pasted: marks, or the ground."""
    piece = own_piece(request, piece_id)
    sent = request.POST
    asked = door.checked(
        door.BringIn,
        {
            "version": number(sent.get("version")),
            "token": sent.get("token"),
            "place": sent.get("as", "marks"),
            "x": decimal(sent.get("x")),
            "y": decimal(sent.get("y")),
        },
    )
    files = uploads(request)
    try:
        notes = bringing.bring_onto(
            piece,
            asked.version,
            files,
            lambda document, artworks: coming.edits_of(document, artworks, asked.place, asked.at),
            asked.label,
            asked.token,
        )
    except actions.Stale:
        return stale(snapshot(own_piece(request, piece_id)))
    return JsonResponse(snapshot(own_piece(request, piece_id)) | {"note": " ".join(notes)})


@require_POST
def replace_everywhere(request, piece_id):
    return moved(
        request,
        piece_id,
        door.ReplaceEverywhere,
        lambda piece, asked: artworks.replace_everywhere(
            piece, asked.version, asked.mark, asked.art, asked.fit, asked.token
        ),
    )


@require_GET
def uses(request, piece_id):
    """Where the art of a mark is shown too, before it is replaced everywhere."""
    piece = own_piece(request, piece_id)
    art = piece.document.mark(request.GET.get("mark", "")).art
    found = artworks.uses_of(request.user, art.hash) if hasattr(art, "hash") else []
    return render(request, "bench/marks/uses.html", {"uses": found, "piece": piece})
