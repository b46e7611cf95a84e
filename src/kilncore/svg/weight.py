"""How much there is to draw in an SVG, with everything that is repeated counted as often as it is
drawn.

Repeated are what `use` points at, and the patterns, masks, clips and markers of every shape,
inherited ones too. What needs a picture of its own while it is drawn (opacity, blending, masks)
counts as many shapes, and may not be nested deeply: each level takes the memory of a whole block.
Every element is weighed once.
"""

import re
from typing import Any

from lxml import etree

from kilncore.errors import UnusableFile
from kilncore.svg.parsing import MAX_DEPTH, SVG, XLINK, local

MAX_DRAWN = 50_000
MAX_LAYERS_DEEP = 12
LAYER = 40  # a picture of its own, in shapes
SHAPES = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
NOT_DRAWN = {
    "defs",
    "symbol",
    "clipPath",
    "mask",
    "pattern",
    "marker",
    "linearGradient",
    "radialGradient",
    "style",
}
PAINTS, MARKERS = ("fill", "stroke"), ("marker-start", "marker-mid", "marker-end")
POINTS_TO = re.compile(r"url\(\s*['\"]?#([^)'\"\s]+)")
NUMBERS = re.compile(r"\d+(?:\.\d*)?|[A-Za-z]")


def check(root: Any) -> None:
    """UnusableFile if it draws too much, or itself."""
    _Scales(root).check()


class _Scales:
    def __init__(self, root: Any):
        self.root = root
        self.by_id = {}
        for element in root.xpath("//*[@id]"):
            self.by_id.setdefault(element.get("id"), element)
        self.repeats = bool(root.xpath("boolean(//@*[contains(., 'url(')])")) or any(
            local(e) == "use" for e in root.iter(f"{{{SVG}}}use")
        )
        self.known = {}  # element -> (shapes' worth, layers deep, shapes that may inherit)

    def check(self) -> None:
        weight, deep, _ = self._weighed(self.root) if self.repeats else self._counted()
        if weight > MAX_DRAWN:
            raise UnusableFile(
                f"This SVG draws more than {MAX_DRAWN:,} parts. Simplify it, or bring it in as "
                "a picture."
            )
        if deep > MAX_LAYERS_DEEP:
            raise UnusableFile(
                f"This SVG has see-through groups within groups, more than {MAX_LAYERS_DEEP} "
                "deep. Merge them and bring it in again."
            )

    def _counted(self):
        """The same where nothing is drawn by reference."""
        if not self.root.xpath("boolean(//@style|//@mask|//@opacity)"):
            return int(self.root.xpath("count(//*)")), 0, 0
        weight = deep = most = 0
        for event, element in etree.iterwalk(self.root, events=("start", "end")):
            layers = self._layers(element)
            deep += layers if event == "start" else -layers
            weight, most = weight + (event == "start") * (1 + layers * LAYER), max(most, deep)
        return weight, most, 0

    def _weighed(self, root: Any):
        """Deepest first, without recursion; an element that waits for itself draws itself."""
        waiting, open_ = [root], set()
        while waiting:
            element = waiting[-1]
            if element in self.known:
                waiting.pop()
                continue
            missing = [other for other in self._made_of(element) if other not in self.known]
            if missing:
                if (
                    element in open_
                    and any(other in open_ for other in missing)
                    or len(open_) > 4 * MAX_DEPTH * 50
                ):
                    raise UnusableFile(
                        "This SVG refers to itself in a circle. Expand its symbols and bring "
                        "it in again."
                    )
                open_.add(element)
                waiting += missing
                continue
            self.known[element] = self._sum(element)
            open_.discard(element)
            waiting.pop()
        return self.known[root]

    def _made_of(self, element: Any) -> list:
        return [*element, *(target for target, _ in self._references(element))]

    def _references(self, element: Any):
        """(target, how often) of what an element itself draws by reference."""
        references = []
        if local(element) == "use":
            target = self.by_id.get(
                (element.get("href") or element.get(f"{{{XLINK}}}href") or "").strip()[1:]
            )
            references += [(target, 1)] if target is not None else []
        for name in ("clip-path", "mask"):
            references += self._pointed_at(element.get(name), 1)
        if local(element) in SHAPES:
            for name in PAINTS:
                references += self._pointed_at(self._inherited(element, name), 1)
            for name, times in zip(MARKERS, (1, self._corners(element), 1), strict=True):
                references += self._pointed_at(self._inherited(element, name), times)
        if local(element) in (
            "use",
            "g",
            "svg",
        ):  # what its shapes may take from it, drawn where it stands
            for name in (*PAINTS, *MARKERS):
                references += self._pointed_at(element.get(name), 1)
        if local(element) in ("pattern", "linearGradient", "radialGradient"):
            target = self.by_id.get(
                (element.get("href") or element.get(f"{{{XLINK}}}href") or "").strip()[1:]
            )
            references += [(target, 1)] if target is not None else []
        return references

    def _pointed_at(self, value: str | None, times: int):
        if not value or "url(" not in value:
            return []
        return [
            (self.by_id[name], times) for name in POINTS_TO.findall(value) if name in self.by_id
        ]

    def _inherited(self, element: Any, name: str):
        while element is not None:
            value = element.get(name)
            if value and value != "inherit":
                return value
            element = element.getparent()
        return None

    def _corners(self, element: Any) -> int:
        if not any(self._inherited(element, name) for name in MARKERS):
            return 1
        return 1 + len(NUMBERS.findall(element.get("d") or element.get("points") or "")) // 2

    def _sum(self, element: Any):
        weight, deep, shapes = 1, 0, int(local(element) in SHAPES)
        for child in element:
            if local(child) in NOT_DRAWN:
                continue
            more, down, within = self.known[child]
            weight, deep, shapes = weight + more, max(deep, down), shapes + within
        lent = self._lent(element)
        for target, times in self._references(element):
            more, down, within = self.known[target]
            if local(element) == "use":
                shapes += within
            weight, deep = weight + more * times, max(deep, down)
        weight += lent * shapes if local(element) == "use" else 0
        layers = self._layers(element)
        return min(weight + layers * LAYER, 10 * MAX_DRAWN), deep + layers, min(shapes, MAX_DRAWN)

    def _lent(self, element: Any) -> int:
        """What each shape that a `use` draws may have to draw of the use's own paints
        and markers.
        """
        values = (
            [self._inherited(element, name) for name in (*PAINTS, *MARKERS)]
            if local(element) == "use"
            else ()
        )
        return sum(
            self.known[target][0]
            for value in values
            for target, _ in self._pointed_at(value, 1)
            if target in self.known
        )

    def _layers(self, element: Any) -> int:
        style = element.get("style", "")
        see_through = element.get("opacity", "1").strip() not in ("1", "1.0", "100%", "inherit")
        blended = "mix-blend-mode" in style and "normal" not in style or "isolate" in style
        return (see_through or blended) + 2 * (
            element.get("mask", "none").strip() not in ("none", "")
        )
