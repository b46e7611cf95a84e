"""Keeping a treatment as a recipe, and giving it to a part of a piece."""

from kilncore.document import Piece
from kilncore.errors import KilnError
from kilncore.recipe import SCALED, fitted, taken_from
from kilnmark.recipes.models import GROUPS, Recipe

MOST = 400


def keep(owner, document: Piece, part: str, name: str, note: str = "", group: str = "worn"):
    """The treatment of a part, under a name."""
    if owner.recipes.here().count() >= MOST:
        raise KilnError(f"There is room for {MOST} recipes. Throw some away first.")
    if group not in dict(GROUPS):
        raise KilnError("A recipe is Worn, Printed or In the surface.", str(group)[:40])
    treatment = taken_from(document, part)
    return Recipe.objects.create(
        owner=owner,
        name=name.strip()[:60] or "Recipe",
        note=note.strip()[:300],
        group=group,
        stored=treatment.model_dump(mode="json"),
    )


def edits_of(
    recipe: Recipe, document: Piece, part: str, instead: bool = True, sizes: str = SCALED
) -> list[dict]:
    """What gives a recipe to a part of a piece."""
    steps = fitted(recipe.treatment, document, part, sizes)
    return [{"op": "add_steps", "part": part, "steps": steps, "instead": instead}]
