"""Recipes: a treatment that is kept, and fitted to other marks and pieces.

Textures, their preparation and the seeds of steps go along. What belongs to one place only stays
behind: limits, fades, touch-up, regions, points that are held. Sizes are kept as they are on the
sheet, or scaled with the mark.
"""

from typing import Any

from kilncore.document import Mark, Piece, Step, sort_of
from kilncore.errors import KilnError
from kilncore.layout.layout import Layout
from kilncore.model.base import Model
from kilncore.model.units import Length

PHYSICAL, SCALED = "physical", "scaled"
SIZES = (PHYSICAL, SCALED)
OWN_PLACE = ("held", "region")  # of a step's settings
LEAST_SCALE, MOST_SCALE = 0.02, 50.0


class Recipe(Model):
    """steps : in order. unit_px : the unit of the frame that they were made in, document px; ppi :
    of that piece. sort : 'mark', 'ground' or 'piece'.
    """

    steps: tuple[Step, ...]
    unit_px: float
    ppi: float
    sort: str = "mark"


def taken_from(piece: Piece, part: str) -> Recipe:
    """The treatment of a part as a recipe.

    Parameters
    ----------
    piece : Piece
        What it is part of.
    part : str
        'ground', a mark or group, or 'piece'.

    Returns
    -------
    Recipe
        With the unit of its frame, and the ppi.

    Raises
    ------
    KilnError
        If it has no treatment.
    """
    treatment = piece.treatments().get(part)
    if not treatment:
        raise KilnError("There is no step here to keep as a recipe.")
    steps = tuple(_bare(step) for step in treatment)
    return Recipe(
        steps=steps, unit_px=_members_unit(piece, part), ppi=piece.ppi, sort=sort_of(part)
    )


def _bare(step: Step) -> Step:
    """Without what belongs to its own place."""
    known = type(step.params).model_fields
    away = {name: known[name].default for name in OWN_PLACE if name in known}
    landing = step.landing.model_copy(update={"limits": (), "fade": None, "touch": ()})
    params = step.params.model_copy(update=away)
    return step.model_copy(update={"landing": landing, "params": params, "shared": ""})


def _unit(piece: Piece, part: str) -> float:
    """What % of a length is of, in document px."""
    return max(_frame_unit(Layout(piece), piece, part), 1e-3)


def _frame_unit(layout: Layout, piece: Piece, part: str) -> float:
    frame = layout.page_frame if sort_of(part) != "mark" else layout.frame(piece.item(part))
    return frame.unit_px


def _members_unit(piece: Piece, part: str) -> float:
    """What sizes go by: the unit of a part; of a group, that of its middle member, since it is they
    that are seen to be soft or coarse.
    """
    layout = Layout(piece)
    if sort_of(part) == "mark" and (marks := _marks_in(piece.item(part))):
        units = sorted(layout.frame(mark).unit_px for mark in marks)
        return max(units[len(units) // 2], 1e-3)
    return _unit(piece, part)


def _marks_in(item: Any) -> list[Mark]:
    """The marks of a group, however deep; none of a mark."""
    marks = []
    for member in getattr(item, "members", ()):
        marks += [member] if isinstance(member, Mark) else _marks_in(member)
    return marks


def in_words(piece: Piece, part: str) -> bool:
    """Whether a part is words, so that its parts are letters: of drawings they may be dashes."""
    if sort_of(part) != "mark":
        return False
    item = piece.item(part)
    marks: list[Any] = _marks_in(item) or [item]
    return all(getattr(mark.art, "kind", "") == "lettering" for mark in marks)


def fitted(recipe: Recipe, piece: Piece, part: str, sizes: str = SCALED) -> list[dict[str, Any]]:
    """The steps of a recipe as the edit `add_steps` takes them, for a part of a piece.

    Parameters
    ----------
    recipe : Recipe
        Any.
    piece, part : object
        What it is given to.
    sizes : str
        'physical', as large on the sheet as they were; 'scaled', with the mark.

    Returns
    -------
    list of dict
        Steps, without ids.

    Raises
    ------
    KilnError
        For a part that is not there, or other sizes.

    References
    ----------
    docs/engine.md, Recipes.
    """
    if sizes not in SIZES:
        raise KilnError(f"Sizes are one of {', '.join(SIZES)}.", str(sizes)[:60])
    units, ppi = _unit(piece, part) / recipe.unit_px, piece.ppi / recipe.ppi
    own = _members_unit(piece, part) / recipe.unit_px
    factors = _Factors(px=own if sizes == SCALED else ppi, units=units, ppi=ppi)
    words = in_words(piece, part)
    steps = []
    for step in recipe.steps:
        named = step.model_dump(mode="json", exclude={"id"})
        named["params"] = factors.scaled(step.params).model_dump(mode="json")
        if "least_part" in named["params"] and not words:
            named["params"]["least_part"] = 0.0
        steps.append(named)
    return steps


class _Factors:
    """px : by which document px are multiplied. units, ppi : the new part's, over the old one's."""

    def __init__(self, px: float, units: float, ppi: float):
        self.px, self.units, self.ppi = px, units, ppi

    def scaled(self, value: Any) -> Any:
        """A model with all its lengths, and the scales of its textures, multiplied."""
        if isinstance(value, Length):
            by = {"px": self.px, "mm": self.px / self.ppi, "%": self.px / self.units}[value.unit]
            return value.model_copy(update={"value": _within(value.value * by, 1e5)})
        if not isinstance(value, Model):
            return value
        made = {name: self.scaled(getattr(value, name)) for name in type(value).model_fields}
        if {"x", "y", "scale", "rotation_deg"} <= set(made):
            made["scale"] = min(max(made["scale"] * self.px, LEAST_SCALE), MOST_SCALE)
        return value.model_copy(update=made)


def _within(value: float, most: float) -> float:
    return round(min(max(value, -most), most), 4)
