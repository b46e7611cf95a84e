"""What a landing holds back, and the tones and colours that it is held by."""

import math

from django.http import JsonResponse
from django.views.decorators.http import require_GET, require_POST

from kilncore.engine.art_colours import art_colour_at, art_colours
from kilncore.engine.followed import torn_at
from kilncore.engine.held_back import held_back
from kilncore.engine.range_tones import range_tones, tone_at
from kilncore.errors import KilnError
from kilncore.output.preview import encode
from kilnmark import door
from kilnmark.bench import pictures
from kilnmark.bench.changes.unsaved import edited
from kilnmark.bench.holding.hatching import LOOKS
from kilnmark.bench.own import decimal, newest, own_piece, stale
from kilnmark.storage import assets


@require_POST
def held_view(request, piece_id):
    """What the landing of a step, or of a mark, holds back, or where a mark is torn: a layer to be
    laid over the stage."""
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.HeldBack)
    if asked.version != piece.version:
        return stale()
    document, files = edited(request, piece, asked.edits)
    view = pictures.view_of(asked.view)

    def draw(outdated):
        if asked.of == "torn":
            found = torn_at(document, asked.step or "", view.region, view.scale, files)
        else:
            region = (asked.part, asked.step, view.region, view.scale)
            found = held_back(document, *region, files, cancelled=outdated)
        return encode(LOOKS[asked.look](*found), lossless=True)

    return newest(request, asked, draw)


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
