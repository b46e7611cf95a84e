from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from kilnmark.bin.kinds import KINDS


@require_GET
def listing(request):
    """What was thrown away, of each kind, the last one first."""
    kinds = [(kind, kind.rows(request.user).in_bin()) for kind in KINDS.values()]
    shown = [(kind, rows) for kind, rows in kinds if rows]
    return render(request, "bin/listing.html", {"kinds": shown})


@require_POST
def throw_away(request, kind, key):
    """Into the bin. Pieces that use it keep it."""
    found, rows = _one(request, kind, key)
    name = str(rows.get())
    rows.throw_away()
    messages.success(request, f"“{name}” is in the bin for 30 days.")
    return redirect(found.page)


@require_POST
def fetch_back(request, kind, key):
    """Out of the bin, where it was."""
    _, rows = _one(request, kind, key)
    name = str(rows.get())
    rows.fetch_back()
    messages.success(request, f"“{name}” is back.")
    return redirect("bin")


def _one(request, kind: str, key: str):
    if kind not in KINDS:
        raise Http404
    rows = KINDS[kind].rows(request.user)
    try:
        get_object_or_404(rows, pk=key)
    except (ValueError, ValidationError):
        raise Http404 from None
    return KINDS[kind], rows.filter(pk=key)
