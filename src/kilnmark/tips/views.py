"""A tip is made on the page of its texture; its picture."""

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_POST

from kilnmark.storage import assets
from kilnmark.tips import actions
from kilnmark.tips.pictured import ON, UNDER, stroke_of, whole_of

KEPT = {"Cache-Control": "private, max-age=86400"}


@require_POST
def make(request, texture_id):
    part = actions.part_of(request.POST)
    tip = actions.make(_texture(request, texture_id), request.POST.get("name", ""), part)
    messages.success(request, f"“{tip.name}” is among the tips, wherever something is drawn.")
    return redirect("texture", texture_id)


@require_GET
def tried(request, texture_id):
    """A stroke of the tip that a part would make."""
    tip = actions.made_of(_texture(request, texture_id), actions.part_of(request.GET))
    return HttpResponse(stroke_of(tip.told, ON, UNDER), content_type="image/png")


@require_GET
def whole(request, texture_id):
    """All of a texture, small: on it the part is chosen."""
    texture = _texture(request, texture_id)
    data, kind = whole_of(assets().source(texture.hash).planes)
    return HttpResponse(
        data, content_type=kind, headers={"Cache-Control": "private, max-age=86400"}
    )


def _texture(request, texture_id):
    return get_object_or_404(request.user.textures.here(), pk=texture_id)


@require_GET
def picture(request, tip_id):
    tip = get_object_or_404(request.user.tips, pk=tip_id)
    return HttpResponse(stroke_of(tip.told, ON, UNDER), content_type="image/png")
