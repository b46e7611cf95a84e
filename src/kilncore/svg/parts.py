"""The parts of a drawing: its paints and its groups, and showing or recolouring some of them.

A paint is a colour, or a gradient or pattern as a whole ('url(#id)'). Groups are what the drawing
is made of at the first level that has more than one thing. All of it is told of a clean drawing
whose colours are written out (`colours`), and stays true as long as the file does.
"""

from collections.abc import Iterator
from typing import Any, NamedTuple

from lxml import etree

from kilncore.svg.colours import COLOURED, PAINTS
from kilncore.svg.parsing import SVG, XLINK, local

SHAPES = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
NO_PICTURE = {"mask", "clipPath"}  # what is in them shapes others, in no colour of its own
SERVERS = {"linearGradient", "radialGradient", "pattern"}
OPEN = {"defs", "symbol"}  # what is in them takes what it leaves unsaid from whatever uses it
HOLDERS = {"svg", "g", "switch"}
DEFINITIONS = {"defs", "symbol", "marker", "title", *NO_PICTURE, *SERVERS}
LONGEST_NAME = 40


class Drawn(NamedTuple):
    """An element as it is drawn. within : in a gradient or pattern. fill, stroke, color : its own
    or inherited; '' in a definition that leaves them to whatever uses it.
    """

    element: Any
    name: str
    within: bool
    fill: str = "#000000"
    stroke: str = "none"
    color: str = "#000000"

    def paint(self, name: str) -> str:
        """Of its fill or stroke: '#rrggbb', 'url(#id)', 'none', or '' where it is left open."""
        value = getattr(self, name)
        value = self.color if value == "currentColor" else value
        return value[:7] if value.startswith("#") else value


class Painted(NamedTuple):
    """One fill or stroke of a shape, or of a `use` that lends it to what it uses."""

    here: Drawn
    name: str
    paint: str


def drawn_elements(root: Any) -> Iterator[Drawn]:
    """All that is drawn in its own colours, in order. What is only defined counts where something
    is used again.
    """
    passed = NO_PICTURE | (set() if _uses(root) else {"symbol"})
    waiting = [Drawn(root, "svg", False)]
    while waiting:
        above = waiting.pop()
        element, name = above.element, local(above.element)
        if name in passed:
            continue
        if name in OPEN:
            above = above._replace(fill="", stroke="", color="")
        given = {
            key: value
            for key in ("fill", "stroke", "color")
            if (value := element.get(key)) and value != "inherit"
        }
        here = above._replace(name=name, within=above.within or name in SERVERS, **given)
        yield here
        waiting += [here._replace(element=child) for child in reversed(element)]


def painted(root: Any, servers: bool = False) -> Iterator[Painted]:
    """All fills and strokes, in order, those of definitions that are used too. servers : also
    within gradients and patterns.
    """
    drawn = list(drawn_elements(root))
    lent = _left_open(drawn)
    for here in drawn:
        names: tuple[str, ...] = PAINTS if here.name in SHAPES else ()
        if here.name == "use":
            names = tuple(name for name in PAINTS if name in lent.get(_target(here.element), ()))
        for name in names if servers or not here.within else ():
            paint = here.paint(name)
            if paint not in ("none", ""):
                yield Painted(here, name, paint)


def _left_open(drawn: list[Drawn]) -> dict[str, set[str]]:
    """Which fills and strokes a definition leaves to whatever uses it, by its id."""
    lent: dict[str, set[str]] = {}
    for here in drawn:
        names = [name for name in PAINTS if here.name in SHAPES and here.paint(name) == ""]
        element = here.element if names else None
        while element is not None:
            lent.setdefault(element.get("id", ""), set()).update(names)
            element = element.getparent()
    return lent


def _uses(root: Any) -> bool:
    return next(root.iter(f"{{{SVG}}}use"), None) is not None


def _target(use: Any) -> str:
    return (use.get("href") or use.get(f"{{{XLINK}}}href") or "").strip()[1:]


def colours(root: Any) -> list[str]:
    """'#rrggbb' of all colours, in the order in which they come."""
    stops = (stop.get("stop-color", "")[:7] for stop in root.iter(f"{{{SVG}}}stop"))
    paints = dict.fromkeys([*(one.paint for one in painted(root, servers=True)), *stops])
    return [colour for colour in paints if colour.startswith("#")]


def paints(root: Any) -> list[tuple[str, int]]:
    """(paint, number of its group or -1) for each use of one, in the order in which they are
    drawn.
    """
    number = {e: n for n, group in enumerate(groups(root)) for e in group.iter()}
    passed = set() if _uses(root) else _defined(root)
    return [
        (one.paint, number.get(one.here.element, -1))
        for one in painted(root)
        if one.here.element not in passed
    ]


def _defined(root: Any) -> set:
    return {inner for defs in root.iter(f"{{{SVG}}}defs") for inner in defs.iterdescendants()}


def groups(root: Any) -> list:
    """The elements at the first level that has more than one; empty if there is no such level."""
    while True:
        inside = [child for child in root if local(child) not in DEFINITIONS]
        if len(inside) != 1:
            return inside
        if local(inside[0]) not in HOLDERS:
            return []
        root = inside[0]


def group_names(root: Any) -> list[str]:
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


def _show_groups(root: Any, chosen: set[int]) -> None:
    for number, element in enumerate(groups(root)):
        if number not in chosen:
            element.set("display", "none")


def _show_paints(root: Any, chosen: set[str]) -> None:
    """Each shape says its own paints, or none."""
    for one in list(painted(root)):
        value = getattr(one.here, one.name) if one.paint in chosen else "none"
        one.here.element.set(one.name, value)


def silhouette(svg: bytes, paints: list[str], groups_: list[int], under: list[str]) -> bytes:
    """The drawing in which what has one of `paints` is white, what has one of `under` black, and
    nothing else is drawn: white is what of the first the second leaves to be seen.
    """
    root = etree.fromstring(changed(svg, {}, None, [*paints, *under], groups_))
    for one in list(painted(root)):
        one.here.element.set(one.name, "#ffffff" if one.paint in paints else "#000000")
    return etree.tostring(root)
