"""A piece that an action moved on, as it is told to the browser."""

from django.http import JsonResponse

from kilnmark import door
from kilnmark.bench.changes.snapshot import snapshot
from kilnmark.bench.own import own_piece, stale
from kilnmark.pieces import actions


def moved(request, piece_id, model, action):
    """Run action(piece, what was asked) and tell the new state; a stale version is refused with
    409.
    """
    piece = own_piece(request, piece_id)
    try:
        action(piece, door.asked(request, model))
    except actions.Stale:
        return stale(snapshot(own_piece(request, piece_id)))
    return JsonResponse(snapshot(own_piece(request, piece_id)))
