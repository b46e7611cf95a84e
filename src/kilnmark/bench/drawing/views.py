"""What drawing by hand asks for: tips and what they look like, the strokes that are there, the edge
that they stick to, and strokes that are laid along it by a seed."""

import base64
import json

from django.http import Http404, HttpResponse, JsonResponse
from django.views.decorators.http import require_GET, require_POST
from pydantic import ValidationError

from kilncore.errors import KilnError
from kilncore.strokes import Stroke
from kilncore.strokes.tip import SHIPPED, tip_named
from kilnmark import door
from kilnmark.bench.drawing import edges
from kilnmark.bench.drawing.hand import own_tip, touched
from kilnmark.bench.own import own_piece, stale
from kilnmark.storage import assets
from kilnmark.tips import actions, pictured
from kilnmark.tips.pictured import ON, UNDER

FEWEST_POINTS = 60  # of a stroke that is only pointed at
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
    """The ways of the strokes at a path, so that one of them can be pointed at."""
    piece = own_piece(request, piece_id)
    files = touched(piece.document, _path(request.GET.get("path", "")))
    drawn = [one for name in files for one in assets().strokes(name)]
    told = [
        {
            "points": one.points[:: max(len(one.points) // FEWEST_POINTS, 1)].tolist(),
            "radius": one.radius,
            "back": one.back,
        }
        for one in drawn
    ]
    return JsonResponse({"strokes": told})


@require_GET
def edge(request, piece_id):
    """The outline of a part's bare art, in its own frame."""
    piece = own_piece(request, piece_id)
    loops = edges.loops_of(piece.document, request.GET.get("part", ""), assets())
    return JsonResponse({"loops": [loop.round(5).tolist() for loop in loops]})


@require_POST
def scrapes(request, piece_id):
    """Strokes by a seed along the edges of a part."""
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.Scraped)
    if asked.version != piece.version:
        return stale()
    brush = _brush(asked.brush)
    found = edges.scraped(piece.document, asked.part, brush, asked.seed, asked.side, assets())
    told = [one.model_dump(mode="json", exclude_defaults=True) for one in found]
    return JsonResponse({"strokes": told})


@require_POST
def keep_set(request, piece_id):
    """The strokes at a path, kept by a name."""
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.KeptStrokes)
    made = actions.keep(request.user, touched(piece.document, asked.path), asked.name)
    return JsonResponse({"name": made.name})


def _brush(told: dict) -> Stroke:
    try:
        return Stroke.model_validate({**told, "points": [(0, 0)]})
    except ValidationError as error:
        raise KilnError(
            "These strokes cannot be laid: the tip is not told as it should be."
        ) from error


def _path(text: str) -> list[str]:
    try:
        found = json.loads(text)
    except ValueError:
        found = None
    if not isinstance(found, list) or not all(isinstance(one, str) for one in found):
        raise KilnError("A path is a list of names.", text[:100])
    return found
