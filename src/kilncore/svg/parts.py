"""The parts of a drawing: its paints and its groups, and showing or recolouring some of them.

A paint is a colour, or a gradient or pattern as a whole ('url(#id)'). Groups are what the drawing
is made of at the first level that has more than one thing. All of it is told of a clean drawing
whose colours are written out (`colours`), and stays true as long as the file does.
"""

from lxml import etree

from kilncore.svg.colours import COLOURED, PAINTS
from kilncore.svg.parsing import local

SHAPES = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
NO_PICTURE = {"mask", "clipPath"}  # what is in them shapes others, in no colour of its own
SERVERS = {"linearGradient", "radialGradient", "pattern"}
HOLDERS = {"svg", "g", "switch"}
DEFINITIONS = {"defs", "symbol", "marker", "title", *NO_PICTURE, *SERVERS}
LONGEST_NAME = 40


def shown_elements(root):
    """(element, whether it lies in a gradient or pattern) of all that is drawn in its own colours,
    in order.
    """
    passed = NO_PICTURE | (set() if any(local(e) == "use" for e in root.iter()) else {"symbol"})
    waiting = [(root, False)]
    while waiting:
        element, within = waiting.pop()
        if local(element) in passed:
            continue
        within = within or local(element) in SERVERS
        yield element, within
        waiting += [(child, within) for child in reversed(element)]


def colours(root) -> list[str]:
    """'#rrggbb' of all colours, in the order in which they come."""
    found = {
        value[:7]: None
        for element, _ in shown_elements(root)
        for name, value in ((name, element.get(name, "")) for name in COLOURED)
        if value.startswith("#")
    }
    return list(found)


def paints(root) -> list[str]:
    """The paints of its shapes, one for each use, in the order in which they are drawn."""
    found = []
    used_again = any(local(element) == "use" for element in root.iter())
    for element, within in shown_elements(root):
        defined = not used_again and any(local(e) == "defs" for e in element.iterancestors())
        if local(element) in SHAPES and not within and not defined:
            used = (paint_of(element, name) for name in PAINTS)
            found += [paint for paint in used if paint not in ("none", "")]
    return found


def paint_of(element, name: str) -> str:
    """The paint that an element has, its own or inherited: '#rrggbb', 'url(#id)' or 'none'."""
    value = _inherited(element, name) or ("none" if name == "stroke" else "#000000")
    if value == "currentColor":
        value = _inherited(element, "color") or "#000000"
    return value[:7] if value.startswith("#") else value


def _inherited(element, name: str) -> str | None:
    while element is not None:
        value = element.get(name)
        if value and value != "inherit":
            return value
        element = element.getparent()
    return None


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
    for element, _ in shown_elements(root):
        for name in COLOURED:
            value = element.get(name, "")
            if value.startswith("#"):
                element.set(name, (over or colours.get(value[:7], value[:7])) + value[7:])
    return etree.tostring(root)


def _show_groups(root, chosen: set[int]) -> None:
    for number, element in enumerate(groups(root)):
        if number not in chosen:
            element.set("display", "none")


def _show_paints(root, chosen: set[str]) -> None:
    """Each shape says its own paints, or none."""
    told = [
        (element, name, paint_of(element, name))
        for element, within in shown_elements(root)
        for name in PAINTS
        if not within and (local(element) in SHAPES or element.get(name) is not None)
    ]
    for element, name, paint in told:
        if paint not in chosen:
            element.set(name, "none")
        elif local(element) in SHAPES:
            element.set(name, _inherited(element, name) or "#000000")


def silhouette(svg: bytes, paints: list[str], groups_: list[int], under: list[str]) -> bytes:
    """The drawing in which what has one of `paints` is white, what has one of `under` black, and
    nothing else is drawn: white is what of the first the second leaves to be seen.
    """
    root = etree.fromstring(changed(svg, {}, None, [*paints, *under], groups_))
    told = [
        (element, name, paint_of(element, name))
        for element, within in shown_elements(root)
        for name in PAINTS
        if not within and local(element) in SHAPES
    ]
    for element, name, paint in told:
        if paint != "none":
            element.set(name, "#ffffff" if paint in paints else "#000000")
    return etree.tostring(root)
