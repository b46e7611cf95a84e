"""A tip is made on the page of its texture; its picture."""

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_POST

from kilncore.errors import KilnError
from kilnmark.tips import actions
from kilnmark.tips.pictured import ON, UNDER, stroke_of


@require_POST
def make(request, texture_id):
    texture = get_object_or_404(request.user.textures.here(), pk=texture_id)
    try:
        share = float(request.POST.get("share", "100")) / 100
    except ValueError:
        raise KilnError("How much of a texture is a number, in %.") from None
    darks = request.POST.get("of", "darks") != "lights"
    tip = actions.make(texture, request.POST.get("name", ""), darks, share)
    messages.success(request, f"“{tip.name}” is among the tips, wherever something is drawn.")
    return redirect("texture", texture_id)


@require_GET
def picture(request, tip_id):
    tip = get_object_or_404(request.user.tips, pk=tip_id)
    return HttpResponse(stroke_of(tip.told, ON, UNDER), content_type="image/png")
