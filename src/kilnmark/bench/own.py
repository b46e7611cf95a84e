"""A piece of one's own, and what the bench's answers have in common."""

from django.http import HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404

from kilncore.errors import Superseded
from kilnmark.bench.turns import turns
from kilnmark.pieces.models import Piece

STALE = {
    "reason": "stale",
    "message": "This piece was changed elsewhere, perhaps in another tab.",
}


def stale(newest: dict | None = None) -> JsonResponse:
    """What was asked for is of a state that is no longer the newest. newest : told, so that what
    was changed here can be made again on it.
    """
    return JsonResponse(STALE | ({"newest": newest} if newest else {}), status=409)


SUPERSEDED = {"reason": "superseded", "message": "A newer picture was asked for."}


def own_piece(request, piece_id) -> Piece:
    rows = Piece.objects.select_related("head", "head__onward", "owner")
    return get_object_or_404(rows, pk=piece_id, owner=request.user, binned=None)


def newest(request, asked, draw):
    """draw(outdated) as (bytes, media type); refused when its bench asks for a newer one."""
    outdated = turns.supersede((request.user.pk, asked.bench), asked.sequence)
    try:
        content, media_type = draw(outdated)
    except Superseded:
        return JsonResponse(SUPERSEDED, status=409)
    return HttpResponse(content, content_type=media_type, headers={"Cache-Control": "no-store"})


def number(text: str | None) -> int | None:
    return int(text) if text and text.isdecimal() and len(text) < 16 else None


def decimal(text: str | None) -> float | None:
    try:
        return float(text) if text and len(text) < 30 else None
    except ValueError:
        return None
