"""The parts of a drawing: its paints and its groups, and showing or recolouring some of them.

A paint is a colour, or a gradient or pattern as a whole ('url(#id)'). Groups are what the drawing
is made of at the first level that has more than one thing. All of it is told of a clean drawing
whose colours are written out (`colours`), and stays true as long as the file does.
"""

from collections.abc import Iterator
from typing import Any, NamedTuple

from lxml import etree

from kilncore.svg.colours import COLOURED, PAINTS
from kilncore.svg.parsing import local

SHAPES = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
NO_PICTURE = {"mask", "clipPath"}  # what is in them shapes others, in no colour of its own
SERVERS = {"linearGradient", "radialGradient", "pattern"}
HOLDERS = {"svg", "g", "switch"}
DEFINITIONS = {"defs", "symbol", "marker", "title", *NO_PICTURE, *SERVERS}
LONGEST_NAME = 40


class Drawn(NamedTuple):
    """An element as it is drawn. within : in a gradient or pattern. fill, stroke, color : its own
    or inherited.
    """

    element: Any
    name: str
    within: bool
    fill: str = "#000000"
    stroke: str = "none"
    color: str = "#000000"

    def paint(self, name: str) -> str:
        """Of its fill or stroke: '#rrggbb', 'url(#id)' or 'none'."""
        value = getattr(self, name)
        value = self.color if value == "currentColor" else value
        return value[:7] if value.startswith("#") else value


def drawn_elements(root) -> Iterator[Drawn]:
    """All that is drawn in its own colours, in order. What is only defined counts where something
    is used again.
    """
    repeats = any(local(element) == "use" for element in root.iter())
    passed = NO_PICTURE | (set() if repeats else {"symbol"})
    waiting = [Drawn(root, "svg", False)]
    while waiting:
        above = waiting.pop()
        element, name = above.element, local(above.element)
        if name in passed:
            continue
        within = above.within or name in SERVERS
        given = {
            key: value
            for key in ("fill", "stroke", "color")
            if (value := element.get(key)) and value != "inherit"
        }
        here = above._replace(name=name, within=within, **given)
        yield here
        waiting += [here._replace(element=child) for child in reversed(element)]


def colours(root) -> list[str]:
    """'#rrggbb' of all colours, in the order in which they come."""
    found: dict[str, None] = {}
    for here in drawn_elements(root):
        if here.name in SHAPES:
            found |= dict.fromkeys(map(here.paint, PAINTS))
        elif here.name == "stop":
            found[here.element.get("stop-color", "")[:7]] = None
    return [colour for colour in found if colour.startswith("#")]


def paints(root) -> list[str]:
    """The paints of its shapes, one for each use, in the order in which they are drawn."""
    defined = _only_defined(root)
    return [
        paint
        for here in drawn_elements(root)
        if here.name in SHAPES and not here.within and here.element not in defined
        for name in PAINTS
        if (paint := here.paint(name)) != "none"
    ]


def _only_defined(root) -> set:
    """The elements of a drawing's definitions, where nothing is used again."""
    if any(local(element) == "use" for element in root.iter()):
        return set()
    return {
        inner for defs in root.iter() if local(defs) == "defs" for inner in defs.iterdescendants()
    }


def groups(root) -> list:
    """The elements at the first level that has more than one; empty if there is no such level."""
    while True:
        inside = [child for child in root if local(child) not in DEFINITIONS]
        if len(inside) != 1:
            return inside
        if local(inside[0]) not in HOLDERS:
            return []
        root = inside[0]


def group_names(root) -> list[str]:
    """What the groups are called in the file, '' where they are not."""
    return [(element.get("id") or "").replace("_", " ")[:LONGEST_NAME] for element in groups(root)]


def changed(
    svg: bytes,
    colours: dict[str, str],
    over: str | None,
    paints: list[str],
    groups_: list[int],
) -> bytes:
    """The drawing with colours replaced (`over` is one for all), and only some paints or groups
    shown; none named are all.
    """
    if not (colours or over or paints or groups_):
        return svg
    root = etree.fromstring(svg)
    if groups_:
        _show_groups(root, set(groups_))
    if paints:
        _show_paints(root, set(paints))
    for here in drawn_elements(root):
        for name in COLOURED:
            value = here.element.get(name, "")
            if value.startswith("#"):
                here.element.set(name, (over or colours.get(value[:7], value[:7])) + value[7:])
    return etree.tostring(root)


def _show_groups(root, chosen: set[int]) -> None:
    for number, element in enumerate(groups(root)):
        if number not in chosen:
            element.set("display", "none")


def _show_paints(root, chosen: set[str]) -> None:
    """Each shape says its own paints, or none."""
    for here in list(drawn_elements(root)):
        for name in PAINTS if here.name in SHAPES and not here.within else ():
            shown = here.paint(name) in chosen
            here.element.set(name, getattr(here, name) if shown else "none")


def silhouette(svg: bytes, paints: list[str], groups_: list[int], under: list[str]) -> bytes:
    """The drawing in which what has one of `paints` is white, what has one of `under` black, and
    nothing else is drawn: white is what of the first the second leaves to be seen.
    """
    root = etree.fromstring(changed(svg, {}, None, [*paints, *under], groups_))
    for here in list(drawn_elements(root)):
        for name in PAINTS if here.name in SHAPES and not here.within else ():
            paint = here.paint(name)
            if paint != "none":
                here.element.set(name, "#ffffff" if paint in paints else "#000000")
    return etree.tostring(root)
