"""Walls of try-outs, and each try-out as a picture."""

from django.shortcuts import render
from django.views.decorators.http import require_GET

from kilncore import edits
from kilncore.recipe import SCALED
from kilnmark import door
from kilnmark.bench import pictures
from kilnmark.bench.changes.filling_in import filled_in
from kilnmark.bench.own import number, own_piece, stale
from kilnmark.bench.walls.base import Choice
from kilnmark.bench.walls.kinds import GRADUAL, candidates_of
from kilnmark.bench.walls.wall import unsorted, wall
from kilnmark.pieces import owned
from kilnmark.private import kept_by_key

MOST_SKIPPED = 80  # places of a texture


@require_GET
def tried(request, piece_id):
    """A small picture of a part of the piece as it would be with some edits. The address says of
    which version it is: what it shows never changes.
    """
    piece = own_piece(request, piece_id)
    asked = door.checked(
        door.Tried,
        {
            "version": number(request.GET.get("version")),
            "part": request.GET.get("part", ""),
            "edits": door.listed(request.GET.get("edits", "[]")),
        },
    )
    if asked.version != piece.version:
        return stale()
    document = edits.apply(piece.document, filled_in(piece, asked.edits))
    owned.check_owned(request.user, document)
    large = "large" in request.GET
    return kept_by_key(*pictures.tried(request.user.pk, document, asked.part, large))


@require_GET
def tryouts_wall(request, piece_id):
    """Live alternatives for one choice, on the piece; at `first`, where all of them take long to
    draw, in no order yet, each to be drawn when its picture is asked for.
    """
    piece, asked = own_piece(request, piece_id), request.GET
    part, path, kind = (
        asked.get("part", ""),
        door.listed(asked.get("path", "")),
        asked.get("kind", ""),
    )
    choice = Choice(
        request.user,
        piece.document,
        path,
        min(number(asked.get("skip")) or 0, MOST_SKIPPED),
        asked.get("sizes", SCALED),
        "after" not in asked,
    )
    found = candidates_of(kind, choice)
    filling = "first" in asked and kind in GRADUAL
    cards = unsorted(found) if filling else _wall(piece, part, found)
    context = {"wall": cards, "piece": piece, "part": part, "filling": filling}
    context["shape"] = pictures.shape_of(piece.document, part)
    answer = render(request, "bench/walls/tryouts.html", context)
    answer["X-Filling"] = "1" if filling else "0"
    return answer


def _wall(piece, part: str, found: list) -> list:
    owner, document = piece.owner_id, piece.document
    return wall(owner, document, part, found, lambda changes: filled_in(piece, changes))
