from django.http import JsonResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_GET, require_POST

from kilnmark import door
from kilnmark.bench.snapshot import snapshot
from kilnmark.bench.views import STALE, own_piece
from kilnmark.pieces.actions import Stale
from kilnmark.pieces.cards import card
from kilnmark.pins import actions
from kilnmark.pins.models import Pin
from kilnmark.private import kept_by_key


def own_pin(request, pin_id, binned_too: bool = False) -> Pin:
    rows = Pin.objects.all() if binned_too else Pin.objects.here()
    rows = rows.select_related("piece", "piece__owner", "state")
    return get_object_or_404(rows, pk=pin_id, piece__owner=request.user, piece__binned=None)


@require_GET
def listing(request, piece_id):
    """The pinned versions of a piece."""
    return _listing(request, own_piece(request, piece_id))


def _listing(request, piece):
    pins = piece.pins.here().select_related("state")
    return render(request, "pins/listing.html", {"pins": pins, "piece": piece})


@require_POST
def pin(request, piece_id):
    """The piece as it stands, pinned."""
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.Pinned)
    if asked.version != piece.version:
        return JsonResponse(STALE, status=409)
    actions.pin(piece, asked.name)
    return _listing(request, piece)


@require_GET
def picture(request, pin_id):
    """Of a pinned version; it never changes."""
    return kept_by_key(*card(own_pin(request, pin_id, binned_too=True).state))


@require_POST
def restore(request, pin_id):
    """Back to a pinned version."""
    found = own_pin(request, pin_id)
    asked = door.asked(request, door.Step)
    try:
        piece = actions.restore(found, asked.version, asked.token)
    except Stale:
        return JsonResponse(STALE, status=409)
    return JsonResponse(snapshot(own_piece(request, piece.pk)))


@require_POST
def unpin(request, pin_id):
    """Into the bin, from where it can be fetched back."""
    found = own_pin(request, pin_id)
    Pin.objects.filter(pk=found.pk).throw_away()
    return _listing(request, own_piece(request, found.piece_id))
