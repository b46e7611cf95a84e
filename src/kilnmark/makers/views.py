"""The wall of all makers; one of them, tuned, looked at, and asked for a texture."""

import secrets

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods

from kilncore.errors import KilnError
from kilncore.textures.makers import GROUPS, MAKERS, MAPS, Maker, alike
from kilnmark.controls.fields import fields_of
from kilnmark.firings import kiln
from kilnmark.makers import pictures
from kilnmark.makers.forms import MakingForm, TrialForm
from kilnmark.pieces.models import Piece
from kilnmark.pieces.textures import uses_of
from kilnmark.private import kept_by_key
from kilnmark.shelf import actions

LIKE, MOST_OFFERED = 9, 200
SHORTLY = "private, max-age=10"  # of what a piece shows now: an element that shows it asks again


@require_GET
def wall(request):
    """All makers, by group."""
    groups = [(group, [one for one in MAKERS.values() if one.group == group]) for group in GROUPS]
    shown = {"groups": groups, "key": pictures.MADE_BY, "count": len(MAKERS)}
    return render(request, "makers/wall.html", shown)


@require_GET
def card(request, name, key):
    """A maker's picture on the wall."""
    if name not in MAKERS:
        raise Http404
    return kept_by_key(pictures.card(name), "image/jpeg", fresh=key == pictures.MADE_BY)


@require_http_methods(["GET", "POST"])
def maker(request, name):
    """A maker's page; posted, its texture is asked for. `of` : a texture that is made anew."""
    if name not in MAKERS:
        return redirect("makers")
    used, of = MAKERS[name], _of(request, name)
    form = MakingForm(request.POST or None, initial=_initial(of))
    settings = actions.settings_of(name, of.settings) if of else used.settings()
    if request.method == "POST":
        try:
            settings = actions.settings_of(name, _given(request.POST, used))
            if form.is_valid():
                return _asked(request, used, form.cleaned_data, settings, of)
        except KilnError as error:
            form.add_error(None, error.message)
    return _page(request, used, form, settings, of)


def _of(request, name: str):
    """The texture that is made anew, if it is one of that maker."""
    wanted = request.POST.get("of") or request.GET.get("of")
    if not wanted:
        return None
    try:
        return get_object_or_404(request.user.textures.here(), pk=wanted, maker=name)
    except (ValueError, ValidationError) as error:
        raise Http404 from error


def _initial(of) -> dict:
    if of is None:
        return {"seed": secrets.randbelow(10000)}
    told = {name: getattr(of, name) for name in ("name", "width", "height", "seed")}
    return {**told, "ppi": of.ppi or 300}


def _asked(request, used: Maker, told: dict, settings, of):
    replaces = of if "everywhere" in request.POST else None
    maps = tuple(one for one in MAPS if one in request.POST.getlist("maps"))
    told |= {"settings": settings.model_dump(), "maps": maps, "replaces": replaces}
    making = actions.ask_for(request.user, used.name, **told)
    kiln.wake()
    then = "It will be here when it is done."
    if replaces:
        then = "It comes in its place on every piece when it is done; that can be undone there."
    messages.success(request, f"“{making.name}” is being made. {then}")
    return redirect("shelf")


def _page(request, used: Maker, form, settings, of):
    """settings : as they were asked for, so that a refusal moves no slider back."""
    shown = {
        "maker": used,
        "form": form,
        "fields": fields_of(settings, []),
        "starts": [
            {"name": title, "settings": used.settings.model_validate(start).model_dump()}
            for title, start in used.starts.items()
        ],
        "maps": [(one, MAPS[one]) for one in used.gives],
        "artworks": request.user.artworks.here().filter(kind="vector")[:MOST_OFFERED],
        "of": of,
        "uses": uses_of(request.user, of.hash) if of else [],
        "piece": request.GET.get("piece", ""),
        "part": request.GET.get("part", ""),
        "stale": bool(of) and of.revision != used.revision,
        "key": pictures.MADE_BY,
        "trial": reverse("maker-trial", args=[used.name]),
    }
    return render(request, "makers/maker.html", shown)


@require_GET
def trial(request, name):
    """What a maker would make with the settings as they stand: a small one, for looking."""
    form = TrialForm(request.GET)
    if name not in MAKERS or not form.is_valid():
        raise KilnError("A maker's settings are out of range.", str(form.errors))
    settings, told = actions.settings_of(name, _given(request.GET, MAKERS[name])), form.cleaned_data
    drawings = actions.drawings_of(request.user, settings)
    if told["on"] == "piece":
        made = _on_piece(request, name, settings, told, drawings)
        return HttpResponse(made, content_type="image/jpeg", headers={"Cache-Control": SHORTLY})
    made = pictures.trial(name, settings, told, drawings)
    fresh = request.GET.get("key") == pictures.MADE_BY
    return kept_by_key(made, "image/jpeg", fresh=fresh)


def _on_piece(request, name: str, settings, told: dict, drawings: dict) -> bytes:
    of = _of(request, name)
    rows = Piece.objects.select_related("head", "owner")
    piece = get_object_or_404(rows, pk=told["piece"], owner=request.user, binned=None)
    if of is None:
        raise Http404
    old = {one: row.hash for one, row in actions.siblings(of).items()}
    return pictures.on_piece(name, settings, told, drawings, piece.document, old)


@require_GET
def like(request, name):
    """Nine more like it: their seeds and settings."""
    form = TrialForm(request.GET)
    if name not in MAKERS or not form.is_valid():
        raise KilnError("A maker's settings are out of range.", str(form.errors))
    settings = actions.settings_of(name, _given(request.GET, MAKERS[name]))
    found = alike(name, settings, form.cleaned_data["seed"], LIKE)
    told = [{"seed": seed, "settings": one.model_dump()} for seed, one in found]
    return JsonResponse({"like": told})


def _given(data, used: Maker) -> dict:
    """What a form says of a maker's settings."""
    return {name: data[name] for name in used.settings.model_fields if name in data}
