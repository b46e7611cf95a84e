"""What drawing by hand asks for: tips and what they look like, the strokes that are there, the edge
that they stick to, and strokes that are laid along it by a seed."""

import base64
import json

from django.http import Http404, HttpResponse, JsonResponse
from django.views.decorators.http import require_GET, require_POST

from kilncore.errors import KilnError
from kilncore.strokes import Stroke, told_in
from kilncore.strokes.tip import SHIPPED, tip_named
from kilnmark import door
from kilnmark.bench.drawing.hand import own_tip, touched
from kilnmark.bench.own import own_piece
from kilnmark.pieces import edges
from kilnmark.storage import assets
from kilnmark.tips import actions, pictured
from kilnmark.tips.pictured import ON, UNDER

FEW_POINTS, FEWEST_POINTS, MANY = 60, 12, 400  # of a stroke that is pointed at, of many such
HELD = {
    *("radius", "back", "strength", "hardness", "tip", "id"),
    *("curved", "closed", "corners", "taper_in", "taper_out", "ends"),
}
KEPT = {"Cache-Control": "private, max-age=86400"}


@require_GET
def tip_picture(request, piece_id, name):
    """A stroke of a tip on a colour: 'round' is the smooth one, 'line' scratches."""
    own_piece(request, piece_id)
    on, under = request.GET.get("on", ON), request.GET.get("under", UNDER)
    if name not in ("round", "line", *SHIPPED):
        name = _own_tip(request, name).told
    found = pictured.stroke_of(name, on, under)
    return HttpResponse(found, content_type="image/png", headers=KEPT)


@require_GET
def tip_pixels(request, piece_id, name):
    """The pixels of a tip that ships, for the overlay under the hand."""
    own_piece(request, piece_id)
    told = name if name in SHIPPED else _own_tip(request, name).told
    tip = tip_named(told)
    assert tip is not None
    pixels = base64.b64encode(tip.pixels.tobytes()).decode()
    return JsonResponse({"size": len(tip.pixels), "pixels": pixels, "told": told}, headers=KEPT)


def _own_tip(request, name: str):
    tip = own_tip(request.user, name)
    if tip is None:
        raise Http404
    return tip


@require_GET
def strokes(request, piece_id):
    """The strokes at a path, so that one of them can be taken hold of: what was drawn freely is
    told by fewer points.
    """
    piece = own_piece(request, piece_id)
    files = touched(piece.document, _path(request.GET.get("path", "")))
    drawn = [one for name in files for one in told_in(assets().data(name))]
    most = FEW_POINTS if len(drawn) < MANY else FEWEST_POINTS
    return JsonResponse({"strokes": [_held(one, most) for one in drawn]})


def _held(stroke: Stroke, most: int) -> dict:
    told = stroke.model_dump(include=HELD) | {"tip": bool(stroke.tip)}
    every = 1 if stroke.curved else -(-len(stroke.points) // most)
    points = [stroke.points[n] for n in range(0, len(stroke.points), every)]
    if points[-1] != stroke.points[-1]:
        points.append(stroke.points[-1])
    return {**told, "points": [(round(x, 5), round(y, 5)) for x, y in points]}


@require_GET
def edge(request, piece_id):
    """The outline of a part's bare art, in its own frame."""
    piece = own_piece(request, piece_id)
    loops = edges.loops_of(piece.document, request.GET.get("part", ""), assets())
    return JsonResponse({"loops": [loop.round(5).tolist() for loop in loops]})


@require_POST
def keep_set(request, piece_id):
    """The strokes at a path, kept by a name."""
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.KeptStrokes)
    made = actions.keep(request.user, touched(piece.document, asked.path), asked.name)
    return JsonResponse({"name": made.name})


def _path(text: str) -> list[str]:
    try:
        found = json.loads(text)
    except ValueError:
        found = None
    if not isinstance(found, list) or not all(isinstance(one, str) for one in found):
        raise KilnError("A path is a list of names.", text[:100])
    return found
