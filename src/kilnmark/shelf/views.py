from datetime import timedelta

from django.contrib import messages
from django.db.models import Q
from django.http import JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from kilncore.errors import KilnError
from kilncore.pixels.reading import MAX_BYTES
from kilncore.textures.facts import USES
from kilnmark.jobs import Stage
from kilnmark.pieces.textures import texture_counts, uses_of
from kilnmark.private import kept_by_key
from kilnmark.refusals import wants_json
from kilnmark.shelf import actions, arranged
from kilnmark.shelf.forms import ToldForm, UploadForm
from kilnmark.shelf.models import Making, Texture

SHOWN_FOR = timedelta(hours=1)  # a making that failed


@require_GET
def listing(request):
    """The shelf, as it is asked for."""
    asked = arranged.asked(request.GET)
    makings = request.user.makings.filter(
        Q(stage__in=[Stage.WAITING, Stage.RUNNING])
        | Q(stage=Stage.FAILED, asked__gt=timezone.now() - SHOWN_FOR)
    )
    everything = list(request.user.textures.here())
    return render(
        request,
        "shelf/listing.html",
        {
            "textures": arranged.arranged(everything, asked),
            "asked": asked,
            "uses": USES,
            "sorts": arranged.SORTS.items(),
            "tags": arranged.tags_of(everything),
            "used": texture_counts(request.user),
            "count": len(everything),
            "form": UploadForm(),
            "makings": makings,
        },
    )


@require_POST
def favourite(request, texture_id):
    """A favourite, or no longer."""
    texture = _own(request, texture_id)
    texture.favourite = not texture.favourite
    texture.save(update_fields=["favourite"])
    if wants_json(request):
        return JsonResponse({"favourite": texture.favourite})
    return redirect("shelf")


@require_http_methods(["GET", "POST"])
def told(request, texture_id):
    """One texture: what was measured, and what its owner says of it."""
    texture = _own(request, texture_id)
    form = ToldForm(request.POST or None, instance=texture)
    if request.method == "POST" and form.is_valid():
        form.save()
        messages.success(request, f"“{texture.name}” is kept so.")
        return redirect("shelf")
    used = uses_of(request.user, texture.hash)
    return render(request, "shelf/told.html", {"texture": texture, "form": form, "uses": used})


@require_GET
def away(request, texture_id):
    """Before a texture that is used is thrown away: where it is used."""
    texture = _own(request, texture_id)
    return render(
        request,
        "shelf/away.html",
        {"texture": texture, "uses": uses_of(request.user, texture.hash)},
    )


@require_POST
def bring_in(request):
    """One file of a batch; refused in words, it leaves the others alone."""
    known = set(request.user.textures.values_list("hash", flat=True))
    texture = uploaded(request)
    return JsonResponse({"name": texture.name, "known": texture.hash in known})


def uploaded(request) -> Texture:
    """The texture that the file of a request has become, with what was said of it."""
    form = UploadForm(request.POST, request.FILES)
    if not form.is_valid():
        raise KilnError("Choose a picture or a drawing to bring in.")
    facts = dict(form.cleaned_data)
    file = facts.pop("file")
    if file.size > MAX_BYTES:
        raise KilnError(
            f"This file is larger than {MAX_BYTES >> 20} MB. Save it smaller, or as JPEG."
        )
    return actions.upload(request.user, file.name, file.read(), **facts)


def _own(request, texture_id) -> Texture:
    return get_object_or_404(request.user.textures.here(), pk=texture_id)


def making_status(request, making_id):
    return JsonResponse(_status(get_object_or_404(Making, pk=making_id, owner=request.user)))


@require_POST
def making_stop(request, making_id):
    making = get_object_or_404(Making, pk=making_id, owner=request.user)
    Making.stop(making.pk)
    return redirect("shelf")


def _status(making: Making) -> dict:
    words = {
        "waiting": "Waiting",
        "running": f"Being made, {making.progress:.0%}".replace("%", " %"),
    }
    return {
        "stage": making.stage,
        "progress": making.progress,
        "words": making.message or words.get(making.stage, ""),
        "ended": making.ended,
    }


@require_GET
def choices(request):
    """The shelf as it is shown where a texture is chosen."""
    return render(request, "shelf/choices.html", {"textures": _choices(request)})


def _choices(request):
    """Favourites first, each with its preps."""
    return request.user.textures.here().order_by("-favourite", "-added").prefetch_related("preps")


@require_POST
def upload(request):
    texture = uploaded(request)
    if wants_json(request):
        return render(
            request,
            "shelf/choices.html",
            {"textures": _choices(request), "newest": texture},
        )
    messages.success(request, f"“{texture.name}” is on the shelf.")
    return redirect("shelf")


@require_GET
def sample(request, texture_id, key):
    """The middle of a texture at its true pixels."""
    texture = get_object_or_404(Texture, pk=texture_id, owner=request.user)
    way = "span" if "span" in request.GET else "true"
    return kept_by_key(actions.sample(texture, way), "image/jpeg", fresh=key == texture.sample_key)
