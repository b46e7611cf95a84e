"""Making an SVG safe: what is not on the lists below does not get in.

Sources: SVG 1.1 and SVG 2 (elements and attributes), CSS Syntax Level 3 (style rules). Nothing that reaches out of
the file (links, pictures, imports, entities), nothing that runs (scripts, events, animation), and no amount of
repetition (`use` within `use`) that would take a drawing's weight beyond MAX_DRAWN elements.
"""

import re
from dataclasses import dataclass

import tinycss2
from lxml import etree

from kilncore.errors import UnusableFile

SVG, XLINK = "http://www.w3.org/2000/svg", "http://www.w3.org/1999/xlink"
MAX_BYTES = 8 * 2**20
MAX_DRAWN = 50_000
MAX_DEPTH = 100
SHAPES = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
STRUCTURE = {"svg", "g", "defs", "symbol", "use", "style", "clipPath", "mask", "switch"}
PAINTS = {"linearGradient", "radialGradient", "stop", "pattern", "marker"}
ALLOWED = SHAPES | STRUCTURE | PAINTS
QUIET = {"title", "desc", "metadata", "namedview"}  # left out without a word: they draw nothing
ATTRIBUTES = set(
    "id class style d x y x1 y1 x2 y2 cx cy r rx ry fx fy fr width height viewBox preserveAspectRatio points "
    "transform gradientTransform patternTransform gradientUnits patternUnits patternContentUnits spreadMethod offset "
    "clipPathUnits maskUnits maskContentUnits markerUnits markerWidth markerHeight orient refX refY pathLength "
    "href version".split()
)
PRESENTATION = set(
    "fill fill-opacity fill-rule stroke stroke-width stroke-opacity stroke-linecap stroke-linejoin stroke-miterlimit "
    "stroke-dasharray stroke-dashoffset opacity color display visibility clip-path clip-rule mask stop-color "
    "stop-opacity marker marker-start marker-mid marker-end overflow paint-order vector-effect shape-rendering "
    "isolation mix-blend-mode mask-type enable-background color-interpolation".split()
)
LENGTH = re.compile(r"^\s*([0-9]*\.?[0-9]+(?:e[-+]?\d+)?)\s*(px|pt|pc|mm|cm|in|)\s*$", re.I)
CSS_PX = {"": 1, "px": 1, "pt": 96 / 72, "pc": 16, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96}


@dataclass(frozen=True)
class SafeSvg:
    """data : the clean file. width, height : its own size in CSS px. left_out : what was not kept, in words."""

    data: bytes
    width: float
    height: float
    left_out: tuple[str, ...]


def sanitise(data: bytes) -> SafeSvg:
    """The drawing without all that is not plain drawing; UnusableFile, with the reason, if nothing can be drawn."""
    root = _parsed(data)
    left_out: dict[str, None] = {}
    _clean(root, left_out, 0)
    if not any(_local(e) in SHAPES for e in root.iter()):
        raise UnusableFile("There is nothing to draw in this SVG"
                           + (f": it holds only {_listed(left_out)}, which Kilnmark leaves out." if left_out else "."))
    _check_weight(root)
    width, height = _own_size(root)
    etree.cleanup_namespaces(root, keep_ns_prefixes=["xlink"])
    return SafeSvg(etree.tostring(root, encoding="utf-8"), width, height, tuple(left_out))


def _listed(names) -> str:
    return ", ".join(names)


def _parsed(data: bytes):
    if len(data) > MAX_BYTES:
        raise UnusableFile(f"This SVG is larger than {MAX_BYTES >> 20} MB. Simplify it, or bring it in as a picture.")
    if b"<!ENTITY" in data:
        raise UnusableFile("This SVG defines entities of its own, which are not safe to open. Save it without them.")
    parser = etree.XMLParser(resolve_entities=False, no_network=True, huge_tree=False, remove_comments=True,
                             remove_pis=True, load_dtd=False)
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise UnusableFile("This is not an SVG, or it is damaged: it could not be read to its end.", str(error)) from error
    if root.tag not in (f"{{{SVG}}}svg", "svg"):
        raise UnusableFile("This is not an SVG: its outermost part has another name.", str(root.tag)[:80])
    return _in_svg_namespace(root) if root.tag == "svg" else root


def _in_svg_namespace(root):
    return etree.fromstring(etree.tostring(root).replace(b"<svg", f'<svg xmlns="{SVG}"'.encode(), 1))


def _local(element) -> str:
    tag = element.tag
    return tag.removeprefix(f"{{{SVG}}}") if isinstance(tag, str) and tag.startswith(f"{{{SVG}}}") else ""


def _clean(element, left_out: dict, depth: int) -> None:
    if depth > MAX_DEPTH:
        raise UnusableFile(f"This SVG is nested more than {MAX_DEPTH} levels deep. Ungroup it and bring it in again.")
    for child in list(element):
        if _local(child) in ALLOWED:
            _clean(child, left_out, depth + 1)
        else:
            _leave_out(child, left_out)
            element.remove(child)
    if _local(element) == "style":
        element.text = _clean_sheet(element.text or "")
    for name in list(element.attrib):
        _clean_attribute(element, name)


def _leave_out(child, left_out: dict) -> None:
    name = _local(child)
    if name == "text":
        left_out["live text (turn it into outlines to keep it)"] = None
    elif name == "image":
        left_out["placed pictures"] = None
    elif name == "filter":
        left_out["filter effects"] = None
    elif name and name not in QUIET:
        left_out[f"'{name}' parts"] = None


def _clean_attribute(element, name: str) -> None:
    value = element.attrib[name]
    plain = "href" if name == f"{{{XLINK}}}href" else name
    if plain == "style":
        element.set(name, _clean_declarations(value))
    elif plain == "href":
        if not value.strip().startswith("#"):
            del element.attrib[name]
    elif plain not in ATTRIBUTES | PRESENTATION or not _local_only(value):
        del element.attrib[name]


def _local_only(value: str) -> bool:
    """True if every url(...) in the value points into the file itself. Judged by its tokens, as CSS reads it."""
    if "\\" in value:
        return False
    return all(_token_safe(token) for token in tinycss2.parse_component_value_list(value))


def _token_safe(token) -> bool:
    if token.type == "url":
        return token.value.strip().startswith("#")
    if token.type == "function":
        if token.lower_name in ("url", "src"):
            return all(t.type == "whitespace" or t.type == "string" and t.value.startswith("#") for t in token.arguments)
        return all(_token_safe(t) for t in token.arguments)
    return token.type not in ("error", "{} block", "at-keyword") or token.type == "error" and token.kind == "eof"


def _clean_declarations(text: str) -> str:
    kept = []
    for item in tinycss2.parse_blocks_contents(text, skip_comments=True, skip_whitespace=True):
        if item.type == "declaration" and item.lower_name in PRESENTATION:
            value = tinycss2.serialize(item.value)
            if _local_only(value):
                kept.append(f"{item.lower_name}:{value.strip()}")
    return ";".join(kept)


def _clean_sheet(text: str) -> str:
    rules = []
    for rule in tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True):
        if rule.type == "qualified-rule":
            body = _clean_declarations(tinycss2.serialize(rule.content))
            rules.append(f"{tinycss2.serialize(rule.prelude).strip()}{{{body}}}")
    return "\n".join(rules)


def _check_weight(root) -> None:
    """Count what would be drawn with every `use` followed; refuse circles and bombs."""
    by_id = {e.get("id"): e for e in root.iter() if e.get("id")}
    weights: dict = {}

    def weight(element, trail) -> int:
        if element in weights:
            return weights[element]
        if element in trail or len(trail) > MAX_DEPTH * 2:
            raise UnusableFile("This SVG refers to itself in a circle. Expand its symbols and bring it in again.")
        total = 1 + sum(weight(child, trail | {element}) for child in element)
        for target in _targets(element, by_id):
            total += weight(target, trail | {element})
        weights[element] = min(total, MAX_DRAWN + 1)
        return weights[element]

    if weight(root, frozenset()) > MAX_DRAWN:
        raise UnusableFile(f"This SVG draws more than {MAX_DRAWN:,} parts. Simplify it, or bring it in as a picture.")


def _targets(element, by_id):
    """What an element draws by reference: `use`, and paints, clips and masks, which are drawings too."""
    for name, value in element.attrib.items():
        if name in ("href", f"{{{XLINK}}}href"):
            names = [value.strip()[1:]]
        else:
            names = re.findall(r"url\(\s*['\"]?#([^)'\"\s]+)", value)
        yield from (by_id[name] for name in names if name in by_id)


def _own_size(root) -> tuple[float, float]:
    """The drawing's size in CSS px, from width and height or else its view box; both are then written out."""
    box = [float(n) for n in re.findall(r"[-+]?[0-9]*\.?[0-9]+(?:e[-+]?\d+)?", root.get("viewBox", ""), re.I)]
    width, height = (_length(root.get(name)) for name in ("width", "height"))
    if len(box) == 4 and box[2] > 0 and box[3] > 0:
        width = width or (height * box[2] / box[3] if height else box[2])
        height = height or width * box[3] / box[2]
    elif width and height:
        root.set("viewBox", f"0 0 {width:g} {height:g}")
    if not width or not height or max(width, height) > 1e5 or min(width, height) < 0.1:
        raise UnusableFile("This SVG does not say how large it is. Give it a width and height, or a view box.")
    root.set("width", f"{width:g}")
    root.set("height", f"{height:g}")
    root.set("preserveAspectRatio", root.get("preserveAspectRatio", "xMidYMid meet"))
    return width, height


def _length(text: str | None) -> float | None:
    match = LENGTH.match(text or "")
    return float(match[1]) * CSS_PX[match[2].lower()] if match else None
