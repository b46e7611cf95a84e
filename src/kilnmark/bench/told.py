"""What is told beside the piece: readings, tones, colours, try-outs, where art is used."""

import math

from django.http import HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from kilncore import edits
from kilncore.engine.art_colours import art_colour_at, art_colours
from kilncore.engine.range_tones import range_tones, tone_at
from kilncore.errors import KilnError
from kilncore.recipe import SCALED
from kilnmark import door
from kilnmark.bench import (
    pictures,
    sources,
    tryouts,
)
from kilnmark.bench.filling_in import filled_in
from kilnmark.bench.own import decimal, number, own_piece, stale
from kilnmark.bench.readings import readings_of_step
from kilnmark.pieces import actions, artworks
from kilnmark.private import kept_by_key
from kilnmark.storage import assets

MOST_SKIPPED = 80  # places of a texture


@require_GET
def readings(request, piece_id):
    """What is read of a mark that a step treats."""
    piece = own_piece(request, piece_id)
    found = readings_of_step(
        piece.document, request.GET.get("part", ""), request.GET.get("step", "")
    )
    return render(request, "bench/readings.html", {"readings": found})


@require_GET
def tones(request, piece_id):
    """How often each tone occurs that a blend range reads, of exactly the pixels concerned."""
    piece = own_piece(request, piece_id)
    counts = range_tones(piece.document, *_range_asked(request), assets())
    return JsonResponse({"counts": [round(float(one), 6) for one in counts]})


@require_GET
def tone(request, piece_id):
    """The tone that a blend range reads at a place."""
    piece = own_piece(request, piece_id)
    place = _place(request)
    if place is None:
        raise KilnError("A place is two numbers.")
    found = tone_at(piece.document, *_range_asked(request), place, assets())
    return JsonResponse({"tone": found and round(found, 5)})


@require_GET
def colours(request, piece_id):
    """The flat colours of a part's bare art; with a place, the one that is nearest to it there."""
    piece, part = own_piece(request, piece_id), request.GET.get("part", "")
    place = _place(request)
    at = place and art_colour_at(piece.document, part, place, assets())
    return JsonResponse({"colours": art_colours(piece.document, part, assets()), "at": at})


def _place(request) -> tuple[float, float] | None:
    """(x, y) in document px; None for anything else."""
    found = tuple(decimal(request.GET.get(axis)) for axis in "xy")
    return found if None not in found and all(map(math.isfinite, found)) else None


def _range_asked(request) -> tuple:
    """(part, step, of, reads)."""
    asked = request.GET
    step = asked.get("step") or None
    return asked.get("part", ""), step, asked.get("of", ""), asked.get("reads", "")


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
    actions.check_owned(request.user, document)
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
    choice = tryouts.Choice(
        request.user,
        piece.document,
        path,
        min(number(asked.get("skip")) or 0, MOST_SKIPPED),
        asked.get("sizes", SCALED),
        "after" not in asked,
    )
    found = tryouts.candidates_of(kind, choice)
    filling = "first" in asked and kind in tryouts.GRADUAL
    wall = tryouts.unsorted(found) if filling else _wall(piece, part, found)
    context = {"wall": wall, "piece": piece, "part": part, "filling": filling}
    context["shape"] = pictures.shape_of(piece.document, part)
    answer = render(request, "bench/tryouts.html", context)
    answer["X-Filling"] = "1" if filling else "0"
    return answer


def _wall(piece, part: str, found: list) -> list:
    owner, document = piece.owner_id, piece.document
    return tryouts.wall(owner, document, part, found, lambda changes: filled_in(piece, changes))


@require_GET
def uses(request, piece_id):
    """Where the art of a mark is shown too, before it is replaced everywhere."""
    piece = own_piece(request, piece_id)
    art = piece.document.mark(request.GET.get("mark", "")).art
    found = artworks.uses_of(request.user, art.hash) if hasattr(art, "hash") else []
    return render(request, "bench/uses.html", {"uses": found, "piece": piece})


@require_GET
def source(request, piece_id):
    """A small picture of what an operation of a chain is given: colours are picked on it."""
    piece = own_piece(request, piece_id)
    found = sources.before(
        piece.document, request.GET.get("path", ""), request.GET.get("operation")
    )
    return HttpResponse(found, content_type="image/png", headers={"Cache-Control": "private"})
