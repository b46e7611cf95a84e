"""How a mark or a group is set in perspective, as its sheet shows it."""

import json
from dataclasses import dataclass

from kilncore.document import Group, Mark
from kilncore.layout.laid import enlargements, goes_round
from kilncore.layout.layout import Layout
from kilnmark.controls.fields import Field, Folding, fields_of

WAYS = (
    ("flat", "Flat", "Laid flat"),
    ("corners", "Four corners", "Laid by four corners"),
    ("round", "Round", "Wrapped round a cylinder"),
)
HELP = {
    "flat": "",
    "corners": "Drag its corners on the piece: each goes by itself.",
    "round": "Wrapped round a cylinder, seen from far away.",
}
TOLD = 1.05  # times as large: less is not worth telling
SOFT = 1.6  # times enlarged: a picture looks soft from there on


@dataclass(frozen=True)
class Way:
    """One that can be chosen. edit : as JSON."""

    name: str
    title: str
    label: str
    edit: str
    now: bool


@dataclass(frozen=True)
class Laid(Folding):
    """ways : to choose from. fields : of the one that is. told : readings."""

    ways: tuple[Way, ...]
    help: str
    fields: list[Field]
    told: tuple[str, ...]


def laid_of(layout: Layout, item: Mark | Group, path: list) -> Laid:
    """path : of the item in the document."""
    own = item.placement.perspective
    now = own.kind if own else "flat"
    ways = tuple(
        Way(name, title, label, _edit(item, name), name == now) for name, title, label in WAYS
    )
    fields = fields_of(own, [*path, "placement", "perspective"]) if own else []
    return Laid(ways, HELP[now], fields, _told(layout, item, now))


def _edit(item: Mark | Group, way: str) -> str:
    return json.dumps({"op": "set_in_perspective", "mark": item.id, "way": way})


def _told(layout: Layout, item: Mark | Group, way: str) -> tuple[str, ...]:
    if way == "round":
        degrees, hidden = goes_round(layout, item)
        out = f", {hidden:.0%} of it out of sight" if hidden > 0.004 else ""
        return (f"It goes {degrees:.0f}° round{out}.".replace("%", " %"),)
    if way == "corners":
        least, most = enlargements(layout, item)
        ratio, found = most / max(least, 1e-6), ()
        if ratio > TOLD:
            found += (f"Its near side is {ratio:.1f} times as large as its far side.",)
        if getattr(item, "art", None) and item.art.kind == "picture" and most > SOFT:
            found += (f"Enlarged {most:.1f} times at its nearest: soft there.",)
        return found
    return ("It lies as its group does.",) if layout.projection(item) else ()
