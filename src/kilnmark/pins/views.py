from dataclasses import asdict

from django.http import JsonResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_GET, require_POST

from kilncore.engine.without import without_something
from kilnmark import door
from kilnmark.bench import pictures
from kilnmark.bench.changes.snapshot import snapshot
from kilnmark.bench.own import newest, own_piece, stale
from kilnmark.bench.sheet.readings import readings_of_step
from kilnmark.pieces import actions as pieces
from kilnmark.pieces.actions import Stale
from kilnmark.pieces.cards import card
from kilnmark.pieces.history import sittings
from kilnmark.pieces.models import State
from kilnmark.pins import actions
from kilnmark.pins.models import Pin
from kilnmark.pins.versions import change_words, versions_of
from kilnmark.private import kept_by_key
from kilnmark.storage import assets


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
        return stale()
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
        return stale(snapshot(own_piece(request, found.piece_id)))
    return JsonResponse(snapshot(own_piece(request, piece.pk)))


@require_POST
def unpin(request, pin_id):
    """Into the bin, from where it can be fetched back."""
    found = own_pin(request, pin_id)
    Pin.objects.filter(pk=found.pk).throw_away()
    return _listing(request, own_piece(request, found.piece_id))


@require_GET
def versions(request, piece_id):
    """What can be looked at side by side."""
    piece = own_piece(request, piece_id)
    found = versions_of(piece, request.GET.get("step", "")[:40])
    return JsonResponse({"versions": [asdict(one) for one in found]})


@require_GET
def history(request, piece_id):
    """What was done, as pictures."""
    piece = own_piece(request, piece_id)
    context = {"sittings": sittings(piece), "piece": piece}
    return render(request, "pins/history.html", context)


@require_GET
def state_picture(request, piece_id, state_id):
    """Of one state; it never changes."""
    piece = own_piece(request, piece_id)
    return kept_by_key(*card(get_object_or_404(State, pk=state_id, piece=piece)))


@require_POST
def state_restore(request, piece_id, state_id):
    """Back to any state, as one more that can be undone."""
    piece = own_piece(request, piece_id)
    state = get_object_or_404(State, pk=state_id, piece=piece)
    asked = door.asked(request, door.Step)
    try:
        pieces.become(
            piece, asked.version, state.document, f"Back to “{state.label[:60]}”", asked.token
        )
    except Stale:
        return stale(snapshot(own_piece(request, piece_id)))
    return JsonResponse(snapshot(own_piece(request, piece_id)))


@require_POST
def seen(request, piece_id, state_id):
    """The picture of a part of a piece as it was in one of its states."""
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.Seen)
    document, view = _version(piece, state_id, asked.without), pictures.view_of(asked.view)
    if asked.quality == "draft":
        return newest(request, asked, lambda outdated: pictures.quick(document, view, outdated))
    draw = lambda outdated: pictures.stage(document, view, True, None, outdated, assets())  # noqa: E731
    return newest(request, asked, draw)


@require_POST
def apart(request, piece_id):
    """What changed from one version to another, as a picture, and in words in a header."""
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.Apart)
    before, after = (_version(piece, one.state, one.without) for one in (asked.before, asked.after))
    told = []

    def draw(outdated):
        view = pictures.view_of(asked.view)
        content, media_type, found = pictures.change_picture(before, after, view, outdated)
        told.append(change_words(found))
        return content, media_type

    answer = newest(request, asked, draw)
    if told:
        answer["X-Told"] = told[0]
    return answer


def _version(piece, state_id: int, without: str | None):
    document = get_object_or_404(State, pk=state_id, piece=piece).document
    return without_something(document, without) if without else document


@require_GET
def state_readings(request, piece_id, state_id):
    """What is read of a wear as it was in a state, or without something of it."""
    piece = own_piece(request, piece_id)
    part, step, without = (request.GET.get(name, "")[:40] for name in ("part", "step", "without"))
    found = readings_of_step(_version(piece, state_id, without), part, step)
    return render(request, "bench/sheet/readings.html", {"readings": found, "bare": True})
