"""Parting a drawing: into its colours or its groups, each an art of its own, all in one place.

Together they look as the drawing did. By colour, each part shows all that has one paint; parts are
stacked as their paints are drawn on average. Where a paint comes both below and above another, the
lower part's shapes that lie above are taken out of the upper part (`Shown.under`).
"""

from kilncore.artwork.vector import Shown, Vector
from kilncore.errors import KilnError

MOST_PARTS = 40
WAYS = ("colour", "group")


def parted(drawing: Vector, way: str, facts: dict) -> list[tuple[str, Vector]]:
    """A drawing in parts, from the bottom up.

    Parameters
    ----------
    drawing : Vector
        The art.
    way : str
        'colour' or 'group'.
    facts : dict
        As they were told when it came in: `paints` in the order in which they are drawn, each with
        its group, `groups` by name.

    Returns
    -------
    list of (str, Vector)
        Each with a name.

    Raises
    ------
    KilnError
        Where there are not at least two parts, or too many.
    """
    if way not in WAYS:
        raise KilnError(f"A drawing is parted by one of: {', '.join(WAYS)}.", str(way)[:40])
    parts = _by_colour(drawing, facts) if way == "colour" else _by_group(drawing, facts)
    if len(parts) < 2:
        raise KilnError(f"This drawing has only one {way}: there is nothing to part.")
    if len(parts) > MOST_PARTS:
        raise KilnError(
            f"This drawing has {len(parts)} {way}s; {MOST_PARTS} parts is the most. Merge some in "
            "the drawing and bring it in again."
        )
    return parts


def counted(drawing: Vector, facts: dict) -> dict[str, int]:
    """How many parts a drawing has, by way."""
    return {
        "colour": len({paint for paint, _ in _drawn(drawing, facts)}),
        "group": len(_groups(drawing, facts)),
    }


def _drawn(drawing: Vector, facts: dict) -> list[tuple[str, int]]:
    """(paint, group) of what is shown of it, in the order in which it is drawn."""
    paints, groups = drawing.shown.paints, drawing.shown.groups
    return [
        (paint, group)
        for paint, group in facts.get("paints", ())
        if (not paints or paint in paints) and (not groups or group in groups or group < 0)
    ]


def _groups(drawing: Vector, facts: dict) -> list[int]:
    """The numbers of the groups of which something is shown."""
    shown = {group for _, group in _drawn(drawing, facts)}
    chosen, paints = drawing.shown.groups, facts.get("paints")
    return [
        number
        for number in range(len(facts.get("groups", ())))
        if (not chosen or number in chosen) and (not paints or number in shown)
    ]


def _by_colour(drawing: Vector, facts: dict) -> list[tuple[str, Vector]]:
    drawn = [paint for paint, _ in _drawn(drawing, facts)]
    places: dict[str, list[int]] = {}
    for place, paint in enumerate(drawn):
        places.setdefault(paint, []).append(place)
    order = sorted(places, key=lambda paint: sum(places[paint]) / len(places[paint]))
    new = {change.old: change.new for change in drawing.recolour}
    parts = []
    for number, paint in enumerate(order):
        first = places[paint][0]
        under = tuple(other for other in order[:number] if places[other][-1] > first)
        shown = Shown(paints=(paint,), under=under, groups=drawing.shown.groups)
        name = new.get(paint, paint) if paint.startswith("#") else paint[5:-1].replace("_", " ")
        parts.append((name, drawing.model_copy(update={"shown": shown})))
    return parts


def _by_group(drawing: Vector, facts: dict) -> list[tuple[str, Vector]]:
    names = facts.get("groups", ())
    return [
        (
            names[number] or f"part {number + 1}",
            drawing.model_copy(
                update={"shown": drawing.shown.model_copy(update={"groups": (number,)})}
            ),
        )
        for number in _groups(drawing, facts)
    ]
