"""The recipes, each on the part that is chosen."""

from kilncore.document import sort_of
from kilncore.errors import KilnError
from kilnmark.bench.walls.base import Candidate, Choice
from kilnmark.recipes.actions import edits_of
from kilnmark.recipes.models import GROUPS, Recipe

FLAT = "They need a surface; this ground is flat."
RANKS = {name: number for number, (name, _) in enumerate(GROUPS)}


def looks(choice: Choice) -> list[Candidate]:
    """At the path of a treatment."""
    if choice.path[-1:] != ["treatment"] or not isinstance(choice.now, tuple):
        raise choice.gone()
    part = choice.path[-2] if len(choice.path) > 1 else "piece"
    ground, found = choice.document.ground, []
    flat = not (ground.fill.surface or ground.treatment)
    titles = dict(GROUPS)
    for recipe in Recipe.objects.here().filter(owner=choice.owner):
        try:
            treatment = recipe.treatment
            edits = edits_of(recipe, choice.document, part, choice.instead, choice.sizes)
        except KilnError:
            continue  # of a Kilnmark that knew other steps
        if treatment.sort != sort_of(part):
            continue
        rank, title = RANKS.get(recipe.group, len(RANKS)), titles.get(recipe.group, "")
        note = FLAT if flat and recipe.group == "surface" else ""
        card = Candidate(recipe.name, tuple(edits), group=title, group_note=note, rank=rank)
        found.append(card)
    return found
