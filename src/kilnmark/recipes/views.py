from django.contrib import messages
from django.http import JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from kilnmark import door
from kilnmark.bench.own import own_piece, stale
from kilnmark.private import kept_by_key
from kilnmark.recipes import actions, pictures, shipped
from kilnmark.recipes.models import GROUPS, Recipe


@require_GET
def listing(request):
    """All recipes, each on the same sample mark and on the last used art."""
    rows = list(request.user.recipes.here())
    groups = [(title, [row for row in rows if row.group == name]) for name, title in GROUPS]
    context = {
        "groups": [(title, found) for title, found in groups if found],
        "missing": shipped.missing(request.user),
        "choices": GROUPS,
    }
    return render(request, "recipes/listing.html", context)


@require_GET
def picture(request, recipe_id):
    """Of a recipe. It depends on the art that was used last: nobody keeps it for long."""
    recipe = get_object_or_404(Recipe, pk=recipe_id, owner=request.user)
    found = pictures.picture(request.user, recipe, "own" in request.GET)
    return kept_by_key(*found, fresh=False)


@require_POST
def keep(request, piece_id):
    """The treatment of a part of a piece, as it stands."""
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.Kept)
    if asked.version != piece.version:
        return stale()
    made = actions.keep(
        request.user, piece.document, asked.part, asked.name, asked.note, asked.group
    )
    return JsonResponse({"name": made.name, "id": str(made.pk)})


@require_POST
def change(request, recipe_id):
    """Its name, its note and where it stands."""
    recipe = get_object_or_404(Recipe.objects.here(), pk=recipe_id, owner=request.user)
    recipe.name = request.POST.get("name", "").strip()[:60] or recipe.name
    recipe.note = request.POST.get("note", "").strip()[:300]
    group = request.POST.get("group")
    recipe.group = group if group in dict(GROUPS) else recipe.group
    recipe.save()
    messages.success(request, f"“{recipe.name}” is kept as you told.")
    return redirect("recipes")


@require_POST
def give(request):
    """Those that ship, as far as they were never here."""
    count = shipped.give(request.user)
    messages.success(request, f"{count} recipe{'s' if count != 1 else ''} brought in.")
    return redirect("recipes")
