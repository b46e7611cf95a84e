"""Live text of an SVG, turned into outlines in the shipped fonts.

Sources: SVG 1.1, chapter 10 (positions x, y, dx, dy of single characters, chunks, text-anchor,
tspan, text on a path, white space). Left out: rotated single characters, decorations, vertical
text. A family that is not shipped is stood in for by the shipped one of its sort; which is told.
"""

import math
import re
from dataclasses import dataclass

from fontTools.pens.recordingPen import RecordingPen
from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.svgLib.path.parser import parse_path
from lxml import etree

from kilncore.svg.parsing import SVG, XLINK, local
from kilncore.typesetting.fonts import FONTS, Face, face
from kilncore.typesetting.shaping import Line, shaped

DEFAULT_SIZE = 16.0
MOST_CHARACTERS = 5000
STAND_INS = (  # what a family's name says of its sort, and the shipped font of that sort
    (re.compile(r"script|cursive|hand|brush|lobster", re.I), "lobster"),
    (re.compile(r"slab|rokkitt|courier|mono|typewriter|egypt", re.I), "rokkitt-extrabold"),
    (re.compile(r"condensed|narrow|impact|anton|league|oswald", re.I), "anton"),
    (
        re.compile(r"(?<!sans[- ])(?<!sans)serif|times|georgia|garamond|roman|didot|bodoni", re.I),
        "abril-fatface",
    ),
)
DEFAULT_FONT = "josefin-sans-bold"
LENGTH = re.compile(r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)(px|pt|pc|mm|cm|in|em|ex|%|)\s*")
PX = {"": 1, "px": 1, "pt": 4 / 3, "pc": 16, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96}
SIZES = {"xx-small": 9, "x-small": 10, "small": 13, "medium": 16, "large": 18, "x-large": 24}
SPACE = "{http://www.w3.org/XML/1998/namespace}space"
CURVE_STEPS = 24
POSITIONS = ("x", "y", "dx", "dy")
TEXT_ONLY = (*POSITIONS, "rotate", "textLength", "lengthAdjust", "startOffset", "href")


@dataclass
class Character:
    """One character. owner : the element whose style it has. x, y : where it is put, None if it
    follows. path : the element of the path that it runs along.
    """

    text: str
    owner: object
    x: float | None = None
    y: float | None = None
    dx: float = 0.0
    dy: float = 0.0
    path: object = None
    offset: float = 0.0


@dataclass
class Run:
    """Characters that are shaped together, and where they begin. font, size, line, wide : once they
    are set; wide is with the spacing after the last letter.
    """

    owner: object
    text: str = ""
    x: float | None = None
    y: float | None = None
    dx: float = 0.0
    dy: float = 0.0
    path: object = None
    offset: float = 0.0
    font: Face | None = None
    size: float = 0.0
    line: Line | None = None
    wide: float = 0.0


def outline_text(root) -> list[str]:
    """Put outlines in the place of all text; in words, which fonts stood in for which."""
    told: dict[str, None] = {}
    for element in [e for e in root.iter() if local(e) == "text"]:
        characters = _characters(element)[:MOST_CHARACTERS]
        group = etree.Element(f"{{{SVG}}}g", _kept(element))
        for run, glyphs in _placed(root, _runs(characters), told):
            path = etree.SubElement(group, f"{{{SVG}}}path", {"d": glyphs})
            _style(path, run.owner, element)
        group.tail = element.tail
        element.getparent().replace(element, group) if element.getparent() is not None else None
    return list(told)


def _kept(element) -> dict:
    return {name: value for name, value in element.attrib.items() if name not in TEXT_ONLY}


def _style(path, owner, text) -> None:
    """What a tspan says stands on its outlines; what it inherits, they inherit."""
    chain = []
    while owner is not text:
        chain.append(owner)
        owner = owner.getparent()
    for one in reversed(chain):
        for name, value in _kept(one).items():
            if name != "id":
                path.set(name, value)


def _inherited(element, name: str) -> str | None:
    while element is not None:
        value = element.get(name)
        if value and value.strip() != "inherit":
            return value.strip()
        element = element.getparent()
    return None


# --- which characters, and where they are put ---


def _characters(text) -> list[Character]:
    found: list[Character] = []
    _gather(text, found, None, 0.0)
    keeps = text.get(SPACE) == "preserve" or (_inherited(text, "white-space") or "").startswith(
        "pre"
    )
    found = found if keeps else _collapsed(found)
    _position(text, found)
    return found


def _gather(element, found: list, path, offset: float) -> None:
    if local(element) == "textPath":
        path, offset = element, _length(element.get("startOffset"), element) or 0.0
    found += [_one(c, element, path, offset) for c in element.text or ""]
    for child in element:
        if local(child) in ("tspan", "textPath", "a"):
            _gather(child, found, path, offset)
        found += [_one(c, element, path, offset) for c in child.tail or ""]


def _one(text: str, owner, path, offset: float) -> Character:
    return Character(" " if text in "\t\n\r" else text, owner, path=path, offset=offset)


def _collapsed(found: list[Character]) -> list[Character]:
    """White space as it is by default: runs of it are one space, at the ends there is none."""
    kept: list[Character] = []
    for one in found:
        if one.text != " " or kept and kept[-1].text != " ":
            kept.append(one)
    while kept and kept[-1].text == " ":
        kept.pop()
    return kept


def _position(text, found: list[Character]) -> None:
    """The lists of x, y, dx and dy of an element count its characters; inner ones win."""
    for element in text.iter():
        within = [one for one in found if element in _ancestry(one.owner, text)]
        for name in POSITIONS:
            values = re.split(r"[\s,]+", (element.get(name) or "").strip())
            for one, value in zip(within, values, strict=False):
                number = _length(value, element)
                if number is not None:
                    setattr(one, name, number)


def _ancestry(owner, text):
    found = [owner]
    while owner is not text:
        owner = owner.getparent()
        found.append(owner)
    return found


def _length(value: str | None, element) -> float | None:
    match = LENGTH.fullmatch(value or "")
    if not match or abs(number := float(match[1])) > 1e7:
        return None
    if match[2] in ("em", "ex"):
        return number * _size(element) * (1 if match[2] == "em" else 0.5)
    return number * PX.get(match[2], 1)


def _runs(characters: list[Character]) -> list[Run]:
    runs: list[Run] = []
    for one in characters:
        fresh = (
            not runs
            or one.owner is not runs[-1].owner
            or one.x is not None
            or one.y is not None
            or one.dx
            or one.dy
            or one.path is not runs[-1].path
        )
        if fresh:
            runs.append(Run(one.owner, "", one.x, one.y, one.dx, one.dy, one.path, one.offset))
        runs[-1].text += one.text
    return runs


# --- fonts ---


def _size(element) -> float:
    """The type size in px, by CSS 2.1: % and em are of the parent's."""
    while element is not None:
        value = (element.get("font-size") or "").strip()
        if value and value != "inherit":
            match = LENGTH.fullmatch(value)
            parent = element.getparent()
            if match and match[2] in ("em", "ex", "%"):
                share = float(match[1]) * {"em": 1, "ex": 0.5, "%": 0.01}[match[2]]
                return min(share * (_size(parent) if parent is not None else DEFAULT_SIZE), 1e5)
            if match:
                return min(max(float(match[1]), 0.0) * PX[match[2]], 1e5)
            return SIZES.get(value, DEFAULT_SIZE)
        element = element.getparent()
    return DEFAULT_SIZE


def font_for(family: str | None) -> tuple[str, str]:
    """(shipped font, the first family that was asked for, '' if it is just that font)."""
    names = [name.strip(" '\"") for name in (family or "").split(",") if name.strip(" '\"")]
    titles = {title.lower(): name for name, title in FONTS.items()}
    for name in names:
        for title, known in titles.items():
            if name.lower() == title or title.startswith(name.lower() + " "):
                return known, "" if name == names[0] else names[0]
    for name in names:
        for sort, known in STAND_INS:
            if sort.search(name):
                return known, names[0]
    return DEFAULT_FONT, names[0] if names else ""


# --- placing ---


def _placed(root, runs: list[Run], told: dict):
    """(run, path data) of every run."""
    for run in runs:
        font, missing = font_for(_inherited(run.owner, "font-family"))
        if missing:
            told[f"“{missing[:40]}” is set in {FONTS[font]}"] = None
        run.font, run.size = face(font), _size(run.owner)
        spacing = _length(_inherited(run.owner, "letter-spacing"), run.owner) or 0.0
        run.line = shaped(run.text, run.font, spacing / run.size if run.size else 0.0)
        run.wide = run.line.width * run.size + (spacing if run.text else 0.0)
        if any(ord(c) not in run.font.characters for c in run.text if not c.isspace()):
            told["characters that no shipped font has are drawn as boxes"] = None
    x = y = 0.0
    for number, run in enumerate(runs):
        first = number == 0 or run.x is not None or run.y is not None
        first = first or run.path is not runs[number - 1].path
        if first:
            x = run.x if run.x is not None else (0.0 if run.path is not None else x)
            y = run.y if run.y is not None else y
            chunk = _chunk(runs, number)
            x -= _anchor(run.owner) * sum(r.wide + (r.dx if r is not run else 0) for r in chunk)
        x, y = x + run.dx, y + run.dy
        data = _on_path(root, run, x) if run.path is not None else _straight(run, x, y)
        if data:
            yield run, data
        x += run.wide


def _chunk(runs: list[Run], start: int) -> list[Run]:
    found = [runs[start]]
    for run in runs[start + 1 :]:
        if run.x is not None or run.y is not None or run.path is not runs[start].path:
            break
        found.append(run)
    return found


def _anchor(owner) -> float:
    return {"middle": 0.5, "end": 1.0}.get(_inherited(owner, "text-anchor") or "", 0.0)


def _straight(run: Run, x: float, y: float) -> str:
    pen = SVGPathPen(None, ntos=_number)
    unit = run.size / run.font.units
    for glyph, gx, gy in run.line.glyphs:
        matrix = (unit, 0, 0, -unit, x + gx * run.size, y - gy * run.size)
        run.font.font.draw_glyph_with_pen(glyph, TransformPen(pen, matrix))
    return pen.getCommands()


def _on_path(root, run: Run, along: float) -> str:
    """Each glyph stands on the path at the middle of its advance, turned with it."""
    points = _path_points(root, run.path)
    if len(points) < 2:
        return ""
    pen, unit = SVGPathPen(None, ntos=_number), run.size / run.font.units
    glyphs = run.line.glyphs
    ends = [*(gx for _, gx, _ in glyphs[1:]), run.line.width]
    for (glyph, gx, gy), end in zip(glyphs, ends, strict=True):
        half = (end - gx) * run.size / 2
        place = _at(points, run.offset + along + gx * run.size + half)
        if place is None:
            continue
        px, py, turn = place
        cos, sin = math.cos(turn), math.sin(turn)
        px, py = px - cos * half + sin * gy * run.size, py - sin * half - cos * gy * run.size
        matrix = (cos * unit, sin * unit, sin * unit, -cos * unit, px, py)
        run.font.font.draw_glyph_with_pen(glyph, TransformPen(pen, matrix))
    return pen.getCommands()


def _path_points(root, text_path) -> list[tuple[float, float]]:
    name = (text_path.get("href") or text_path.get(f"{{{XLINK}}}href") or "").strip()[1:]
    target = next((e for e in root.iter() if name and e.get("id") == name), None)
    if target is None or local(target) != "path":
        return []
    recorded = RecordingPen()
    try:
        parse_path(target.get("d", ""), recorded)
    except (ValueError, IndexError, TypeError, KeyError):
        return []
    points: list[tuple[float, float]] = []
    for verb, given in recorded.value:
        if verb == "moveTo" and points:
            break  # only the first stretch
        points += _stretch(verb, points[-1] if points else given[0], given) if given else []
    return points


def _stretch(verb: str, start, given) -> list[tuple[float, float]]:
    if verb in ("moveTo", "lineTo"):
        return [given[0]]
    control = [start, *given]
    degree = len(control) - 1
    found = []
    for step in range(1, CURVE_STEPS + 1):
        t = step / CURVE_STEPS
        weights = [math.comb(degree, k) * t**k * (1 - t) ** (degree - k) for k in range(degree + 1)]
        found.append(
            tuple(
                sum(w * p[axis] for w, p in zip(weights, control, strict=True)) for axis in (0, 1)
            )
        )
    return found


def _at(points, along: float) -> tuple[float, float, float] | None:
    """(x, y, direction) so far along a line of points; None beyond its ends."""
    if along < 0:
        return None
    for (x0, y0), (x1, y1) in zip(points, points[1:], strict=False):
        length = math.hypot(x1 - x0, y1 - y0)
        if length and along <= length:
            share = along / length
            return x0 + (x1 - x0) * share, y0 + (y1 - y0) * share, math.atan2(y1 - y0, x1 - x0)
        along -= length
    return None


def _number(value: float) -> str:
    return f"{value:.3f}".rstrip("0").rstrip(".")
