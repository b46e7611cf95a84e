"""Up to three directions of a piece, large and side by side, and the looks that they begin with."""

from django.contrib import messages
from django.http import JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from kilncore.errors import KilnError
from kilncore.steps import STEPS
from kilnmark import door
from kilnmark.bench.own import own_piece, stale
from kilnmark.bench.paths import treatment_path
from kilnmark.bench.pictures import shape_of
from kilnmark.bench.walls.base import Choice
from kilnmark.bench.walls.kinds import candidates_of
from kilnmark.bench.walls.wall import unsorted
from kilnmark.directions import actions
from kilnmark.directions.asked import At, GoOn, Mix, Put
from kilnmark.directions.models import PLACES, Direction
from kilnmark.firings import kiln
from kilnmark.pieces.actions import Stale
from kilnmark.pieces.names import names_of


@require_GET
def page(request, piece_id):
    """The looks of a part as cards, and what stands in the three places."""
    piece = own_piece(request, piece_id)
    document = piece.document
    parts = names_of(document)
    part = request.GET.get("part", "")
    if part not in parts:
        part = document.stack[-1].id if document.stack else ""
    looks = _looks(request, piece, part) if part else []
    context = {"document": document, "parts": parts.items(), "part": part, "wall": looks}
    context["shape"] = shape_of(document, part) if part else "wide"
    return render(request, "directions/page.html", _context(piece) | context)


def _looks(request, piece, part: str) -> list:
    path = door.listed(treatment_path(piece.document, part))
    choice = Choice(request.user, piece.document, path)
    return unsorted(candidates_of("looks", choice))


@require_POST
def put(request, piece_id):
    """A look at a place."""
    piece = own_piece(request, piece_id)
    asked = door.asked(request, Put)
    if asked.version != piece.version:
        return stale()
    actions.put(piece, asked.place, asked.part, asked.name, asked.edits)
    return _places(request, piece)


@require_POST
def mix(request, piece_id):
    """A step of one direction in another."""
    piece = own_piece(request, piece_id)
    asked = door.asked(request, Mix)
    actions.mix(_at(piece, asked.taker), _at(piece, asked.giver), asked.step)
    return _places(request, piece)


@require_POST
def reseed(request, piece_id):
    """Worn elsewhere."""
    piece = own_piece(request, piece_id)
    actions.reseed(_at(piece, door.asked(request, At).place))
    return _places(request, piece)


@require_POST
def let_go(request, piece_id):
    """Out of its place."""
    piece = own_piece(request, piece_id)
    actions.let_go(_at(piece, door.asked(request, At).place))
    return _places(request, piece)


@require_POST
def go_on(request, piece_id):
    """The piece becomes what a direction is; it tells where to go on."""
    piece = own_piece(request, piece_id)
    asked = door.asked(request, GoOn)
    try:
        actions.go_on(_at(piece, asked.place), asked.version, asked.token)
    except Stale:
        return stale()
    return JsonResponse({"bench": reverse("bench", args=[piece.pk])})


@require_POST
def fire(request, piece_id):
    """A file of each that is named, made in the kiln one after the other."""
    piece = own_piece(request, piece_id)
    wanted = [int(one) for one in request.POST.getlist("place") if one in map(str, PLACES)]
    found = list(piece.directions.filter(place__in=wanted).select_related("state", "piece__owner"))
    if not found:
        raise KilnError("There is no direction to fire. Put a look in a place first.")
    fired = actions.fire(found, request.POST.get("ground") != "without")
    kiln.wake()
    files = "file is" if len(fired) == 1 else "files are"
    messages.success(
        request, f"{len(fired)} {files} in the kiln. They are here when they are made."
    )
    return redirect("firings")


def _at(piece, place: int) -> Direction:
    rows = Direction.objects.select_related("state", "piece", "piece__owner", "piece__head")
    return get_object_or_404(rows, piece=piece, place=place)


def _places(request, piece):
    return render(request, "directions/places.html", _context(piece))


def _context(piece) -> dict:
    """Of each direction: told, its steps; read, the first wear, whose readings are shown."""
    found = list(piece.directions.select_related("state"))
    for one in found:
        one.told = [
            {"id": step.id, "title": STEPS.named(step.kind).title, "off": not step.on}
            for step in one.steps
        ]
        one.read = next((step.id for step in one.steps if step.kind == "wear"), "")
    return {"piece": piece, "directions": found, "count": len(found)}
