import secrets

import numpy as np
import pyvips
from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_http_methods, require_POST
from pydantic import ValidationError

from kilncore.errors import KilnError
from kilncore.output.png import as_image
from kilncore.textures import makers
from kilncore.textures.reading import MAX_BYTES
from kilnmark.private import kept_by_key
from kilnmark.refusals import wants_json
from kilnmark.shelf import actions
from kilnmark.shelf.forms import MakerForm, UploadForm
from kilnmark.shelf.models import Texture
from kilnmark.storage import assets

SAMPLE_PX = 480
TRIAL_PX = 512


@require_GET
def listing(request):
    wanted = request.GET.get("good-for", "")
    textures = [t for t in request.user.textures.all() if not wanted or wanted in t.good_for]
    uses = ["mask", "ground", "coat", "map", "fill"]
    return render(request, "shelf/listing.html", {"textures": textures, "wanted": wanted, "uses": uses, "form": UploadForm()})


@require_GET
def choices(request):
    """The shelf as it is shown where a texture is chosen."""
    return render(request, "shelf/choices.html", {"textures": request.user.textures.all()})


@require_POST
def upload(request):
    form = UploadForm(request.POST, request.FILES)
    if not form.is_valid():
        raise KilnError("Choose a PNG or JPEG picture to bring in.")
    file = form.cleaned_data["file"]
    if file.size > MAX_BYTES:
        raise KilnError(f"This file is larger than {MAX_BYTES >> 20} MB. Save it smaller, or as JPEG.")
    texture = actions.upload(request.user, file.name, file.read(), credit=form.cleaned_data["credit"],
                             licence=form.cleaned_data["licence"])
    if wants_json(request):
        return render(request, "shelf/choices.html", {"textures": request.user.textures.all(), "newest": texture})
    messages.success(request, f"“{texture.name}” is on the shelf.")
    return redirect("shelf")


@require_GET
def sample(request, texture_id, key):
    """The middle of a texture at its true pixels."""
    texture = get_object_or_404(Texture, pk=texture_id, owner=request.user)
    planes = _eight_bits(assets().texture(texture.hash).planes)
    _, height, width = planes.shape
    side = min(SAMPLE_PX, width, height)
    left, top = (width - side) // 2, (height - side) // 2
    return kept_by_key(_jpeg(planes[:3, top : top + side, left : left + side]), "image/jpeg")


def _eight_bits(planes: np.ndarray) -> np.ndarray:
    return planes if planes.dtype == np.uint8 else (planes >> 8).astype(np.uint8)


@require_http_methods(["GET", "POST"])
def make(request, name="planks"):
    if name not in makers.MAKERS:
        return redirect("makers")
    form = MakerForm(makers.MAKERS[name], request.POST or None, initial={"seed": secrets.randbelow(10000)})
    if request.method == "POST" and form.is_valid():
        texture = actions.make(request.user, name, **form.asked())
        messages.success(request, f"“{texture.name}” is on the shelf.")
        return redirect("shelf")
    return render(request, "shelf/makers.html", {"makers": makers.MAKERS.values(), "maker": makers.MAKERS[name], "form": form})


@require_GET
def trial(request, name):
    """What a maker would make with the knobs as they stand: a small one, for looking."""
    form = MakerForm(makers.MAKERS[name], {**request.GET.dict(), "width": TRIAL_PX, "height": TRIAL_PX}) if name in makers.MAKERS else None
    if form is None or not form.is_valid():
        raise KilnError("A maker's settings are out of range.", str(form and form.errors))
    asked = form.asked()
    try:
        params = makers.MAKERS[name].params.model_validate(asked["settings"])
    except ValidationError as error:
        raise KilnError("A maker's settings are out of range.", str(error)) from error
    planes = makers.make(name, TRIAL_PX, TRIAL_PX, asked["seed"], params)
    return kept_by_key(_jpeg(planes), "image/jpeg")


def _jpeg(planes: np.ndarray) -> bytes:
    image: pyvips.Image = as_image(np.moveaxis(planes, 0, 2))
    return image.jpegsave_buffer(Q=90, subsample_mode="off")
