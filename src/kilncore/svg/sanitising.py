"""Making an SVG safe: what is not on the lists below does not get in.

Sources: SVG 1.1 and SVG 2 (elements and attributes), CSS Syntax Level 3 (values). Nothing that
reaches out of the file (links, pictures, imports), nothing that runs (scripts, events, animation),
and no amount of repetition. Style rules are resolved first (`svg_styles`), then all is cleaned,
then weighed as it will be drawn (`svg_weight`). Every rule is linear in the file's length. Files
from outside are read in a limited child (`intake`); what is here only works on what it is given.
"""

import math
import re
from dataclasses import dataclass
from typing import Any

import tinycss2
from lxml import etree

from kilncore.errors import UnusableFile
from kilncore.svg import colours
from kilncore.svg import styles as svg_styles
from kilncore.svg import weight as svg_weight
from kilncore.svg.parsing import SVG, XLINK, local, parsed
from kilncore.svg.weight import SHAPES

STRUCTURE = {"svg", "g", "defs", "symbol", "use", "clipPath", "mask", "switch"}
PAINTS = {"linearGradient", "radialGradient", "stop", "pattern", "marker"}
ALLOWED = SHAPES | STRUCTURE | PAINTS
QUIET = {
    "title",
    "desc",
    "metadata",
    "namedview",
    "style",
}  # left out without a word: they draw nothing
ATTRIBUTES = set(
    "id x y x1 y1 x2 y2 cx cy r rx ry fx fy fr width height viewBox preserveAspectRatio points d "
    "transform gradientTransform patternTransform gradientUnits patternUnits "
    "patternContentUnits spreadMethod offset "
    "clipPathUnits maskUnits maskContentUnits markerUnits markerWidth markerHeight orient refX "
    "refY pathLength "
    "href version style".split()
)
HREFS = {f"{{{XLINK}}}href", "href"}
KEPT = ATTRIBUTES | svg_styles.PROPERTIES
HARMLESS = re.compile(r"[^\\(]*")  # no function, no escape: it points nowhere
LOCAL_URL = re.compile(r"url\(\s*(['\"]?)#[\w.:-]+\1\s*\)")
TRANSFORM = re.compile(r"(?:matrix|translate|scale|rotate|skew[XY])\(|rgba?\(|hsla?\(", re.I)
LENGTH = re.compile(r"([0-9.]{1,20}(?:e[-+]?\d{1,3})?)(px|pt|pc|mm|cm|in|)", re.I)
CSS_PX = {"": 1, "px": 1, "pt": 96 / 72, "pc": 16, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96}
LONGEST_LENGTH, LONGEST_BOX, LONGEST_VALUE = 60, 200, 10_000


@dataclass(frozen=True)
class SafeSvg:
    """data : the clean file. width, height : its own size in CSS px. left_out : what was not kept,
    in words. fonts : which fonts stood in for which.
    """

    data: bytes
    width: float
    height: float
    left_out: tuple[str, ...]
    fonts: tuple[str, ...] = ()


def sanitise(data: bytes) -> SafeSvg:
    """The drawing without all that is not plain drawing; UnusableFile, with the reason, if nothing
    can be drawn.
    """
    root = parsed(data)
    svg_styles.resolve(root)
    fonts = _outline_text(root)
    left_out = _clean(root)
    if not any(local(e) in SHAPES for e in root.iter()):
        raise UnusableFile(
            "There is nothing to draw in this SVG"
            + (
                f": it holds only {', '.join(left_out)}, which Kilnmark leaves out."
                if left_out
                else "."
            )
        )
    svg_weight.check(root)
    colours.write_out(root)
    _settle_strokes(root)
    width, height = own_size(root)
    etree.cleanup_namespaces(root, keep_ns_prefixes=["xlink"])
    return SafeSvg(etree.tostring(root, encoding="utf-8"), width, height, tuple(left_out), fonts)


def _outline_text(root: Any) -> tuple[str, ...]:
    """Live text becomes outlines; which fonts stood in for which."""
    if next(root.iter(f"{{{SVG}}}text"), None) is None:
        return ()
    from kilncore.svg.text import outline_text  # fonts are only read where there is text

    return tuple(outline_text(root))


def _clean(root: Any) -> dict:
    left_out: dict[str, None] = {}
    for element in list(root.iter()):
        for child in list(element) if len(element) else ():
            if local(child) not in ALLOWED:
                _leave_out(child, left_out)
                element.remove(child)
    for element in root.iter():
        element.text = element.tail = None
        attributes = element.attrib
        for name, value in attributes.items():
            if not _may_stay(name, value):
                del attributes[name]
    return left_out


def _leave_out(child: Any, left_out: dict) -> None:
    name = local(child)
    if name == "image":
        left_out["placed pictures, and what they showed or masked"] = None
    elif name == "filter":
        left_out["filter effects"] = None
    elif name and name not in QUIET:
        left_out[f"'{name}' parts"[:60]] = None


def _may_stay(name: str, value: str) -> bool:
    if name in HREFS:
        return value.strip().startswith("#")
    return name in KEPT and points_nowhere_else(value)


def points_nowhere_else(value: str) -> bool:
    """True if every url(...) in the value points into the file itself."""
    if "(" not in value and "\\" not in value:
        return True
    if HARMLESS.fullmatch(TRANSFORM.sub("", LOCAL_URL.sub("", value))):
        return True
    return (
        len(value) < LONGEST_VALUE
        and "\\" not in value
        and all(map(_token_safe, tinycss2.parse_component_value_list(value)))
    )


def _token_safe(token: Any) -> bool:
    if token.type == "url":
        return token.value.strip().startswith("#")
    if token.type == "function":
        if token.lower_name in ("url", "src"):
            return all(
                t.type == "whitespace" or t.type == "string" and t.value.startswith("#")
                for t in token.arguments
            )
        return token.lower_name not in ("image", "image-set", "element") and all(
            _token_safe(t) for t in token.arguments
        )
    return (
        token.type not in ("error", "{} block", "at-keyword")
        or token.type == "error"
        and token.kind == "eof"
    )


def _settle_strokes(root: Any) -> None:
    """Strokes whose width does not grow with the drawing carry it themselves, in px, so that it can
    be brought to scale.
    """
    for element in root.iter():
        if element.get("vector-effect", "").strip() == "non-scaling-stroke":
            for name in ("stroke-width", "stroke-dasharray", "stroke-dashoffset"):
                value = _inherited(element, name)
                if value is not None and all(
                    _length(part) is not None for part in re.split(r"[\s,]+", value.strip())
                ):
                    element.set(
                        name,
                        " ".join(
                            f"{_length(part):g}" for part in re.split(r"[\s,]+", value.strip())
                        ),
                    )
            element.set("stroke-width", element.get("stroke-width", "1"))


def _inherited(element: Any, name: str):
    while element is not None:
        if element.get(name):
            return element.get(name)
        element = element.getparent()
    return None


def own_size(root: Any) -> tuple[float, float]:
    """The drawing's size in CSS px, from width and height or else its view box; both are then
    written out.
    """
    box = _numbers(root.get("viewBox", ""))
    width, height = (_length(root.get(name)) for name in ("width", "height"))
    if len(box) == 4 and box[2] > 0 and box[3] > 0:
        width = width or (height * box[2] / box[3] if height else box[2])
        height = height or width * box[3] / box[2]
    elif width and height:
        root.set("viewBox", f"0 0 {width:g} {height:g}")
    if not width or not height or not max(width, height) <= 1e5 or not min(width, height) >= 0.1:
        raise UnusableFile(
            "This SVG does not say how large it is. Give it a width and height, or a view box."
        )
    root.set("width", f"{width:g}")
    root.set("height", f"{height:g}")
    root.set("preserveAspectRatio", root.get("preserveAspectRatio", "xMidYMid meet"))
    return width, height


def _numbers(text: str) -> list[float]:
    try:
        numbers = (
            [float(part) for part in text.replace(",", " ").split()]
            if len(text) < LONGEST_BOX
            else []
        )
    except ValueError:
        return []
    return numbers if all(math.isfinite(n) and abs(n) < 1e9 for n in numbers) else []


def _length(text: str | None) -> float | None:
    match = LENGTH.fullmatch((text or "").strip()) if len(text or "") < LONGEST_LENGTH else None
    try:
        value = float(match[1]) * CSS_PX[match[2].lower()] if match else None
    except ValueError:
        return None
    return value if value is None or math.isfinite(value) else None
