"""Live text of an SVG, turned into outlines in the shipped fonts.

Sources: SVG 1.1, chapter 10 (positions x, y, dx, dy of single characters, chunks, text-anchor,
tspan, text on a path, white space). Left out: rotated single characters, decorations, vertical
text. A family that is not shipped is stood in for by the shipped one of its sort; which is told.
"""

import math
import re
from typing import Any

from fontTools.pens.recordingPen import RecordingPen
from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.svgLib.path.parser import parse_path
from lxml import etree

from kilncore.svg.parsing import SVG, XLINK, local
from kilncore.svg.text_runs import POSITIONS, Run, characters, inherited, length, runs_of, type_size
from kilncore.typesetting.fonts import face
from kilncore.typesetting.runs import told_of
from kilncore.typesetting.shaping import Setting, shaped
from kilncore.typesetting.shipped import FONTS

MOST_CHARACTERS = 5000
STAND_INS = (  # what a family's name says of its sort, and the shipped font of that sort
    (re.compile(r"script|cursive|hand|brush|lobster", re.I), "lobster"),
    (re.compile(r"courier|mono|typewriter", re.I), "courier-prime-bold"),
    (re.compile(r"stencil", re.I), "saira-stencil-one"),
    (re.compile(r"slab|rokkitt|egypt", re.I), "rokkitt-extrabold"),
    (re.compile(r"condensed|narrow|impact|anton|league|oswald", re.I), "anton"),
    (
        re.compile(r"(?<!sans[- ])(?<!sans)serif|times|georgia|garamond|roman|didot|bodoni", re.I),
        "abril-fatface",
    ),
)
DEFAULT_FONT = "josefin-sans-bold"
CURVE_STEPS = 24
TEXT_ONLY = (*POSITIONS, "rotate", "textLength", "lengthAdjust", "startOffset", "href")


def outline_text(root: Any) -> list[str]:
    """Put outlines in the place of all text; in words, which fonts stood in for which."""
    told: dict[str, None] = {}
    for element in [e for e in root.iter() if local(e) == "text"]:
        letters = characters(element)
        if len(letters) > MOST_CHARACTERS:
            told[f"text after its first {MOST_CHARACTERS:,} characters is left out"] = None
        group = etree.Element(f"{{{SVG}}}g", _kept(element))
        for run, glyphs in _placed(root, runs_of(letters[:MOST_CHARACTERS]), told):
            path = etree.SubElement(group, f"{{{SVG}}}path", {"d": glyphs})
            _style(path, run.owner, element)
        group.tail = element.tail
        if element.getparent() is not None:
            element.getparent().replace(element, group)
    return list(told)


def _kept(element: Any) -> dict:
    return {name: value for name, value in element.attrib.items() if name not in TEXT_ONLY}


def _style(path: Any, owner: Any, text: Any) -> None:
    """What a tspan says stands on its outlines; what it inherits, they inherit."""
    chain = []
    while owner is not text:
        chain.append(owner)
        owner = owner.getparent()
    for one in reversed(chain):
        for name, value in _kept(one).items():
            if name != "id":
                path.set(name, value)


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


def _placed(root: Any, runs: list[Run], told: dict):
    """(run, path data) of every run."""
    for run in runs:
        font, missing = font_for(inherited(run.owner, "font-family"))
        if missing:
            told[f"“{missing[:40]}” is set in {FONTS[font]}"] = None
        run.font, run.size = face(font), type_size(run.owner)
        spacing = length(inherited(run.owner, "letter-spacing"), run.owner) or 0.0
        tracking = spacing / run.size if run.size else 0.0
        run.line = shaped(run.text, Setting(font, tracking=tracking))
        run.wide = run.line.width * run.size + (spacing if run.text else 0.0)
        told |= {note.rstrip("."): None for note in told_of(run.text, run.font)}
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
    chunk = [runs[start]]
    for run in runs[start + 1 :]:
        if run.x is not None or run.y is not None or run.path is not runs[start].path:
            break
        chunk.append(run)
    return chunk


def _anchor(owner: Any) -> float:
    return {"middle": 0.5, "end": 1.0}.get(inherited(owner, "text-anchor") or "", 0.0)


def _straight(run: Run, x: float, y: float) -> str:
    pen = SVGPathPen(None, ntos=_number)
    for glyph in run.line.glyphs:
        unit = run.size / glyph.face.units
        matrix = (unit, 0, 0, -unit, x + glyph.x * run.size, y - glyph.y * run.size)
        glyph.face.font.draw_glyph_with_pen(glyph.id, TransformPen(pen, matrix))
    return pen.getCommands()


def _on_path(root: Any, run: Run, along: float) -> str:
    """Each glyph stands on the path at the middle of its advance, turned with it."""
    points = _path_points(root, run.path)
    if len(points) < 2:
        return ""
    pen = SVGPathPen(None, ntos=_number)
    along += length(run.offset, run.owner, sum(map(math.dist, points, points[1:]))) or 0.0
    glyphs = run.line.glyphs
    ends = [*(glyph.x for glyph in glyphs[1:]), run.line.width]
    for glyph, end in zip(glyphs, ends, strict=True):
        gy, unit = glyph.y, run.size / glyph.face.units
        half = (end - glyph.x) * run.size / 2
        place = _at(points, along + glyph.x * run.size + half)
        if place is None:
            continue
        px, py, turn = place
        cos, sin = math.cos(turn), math.sin(turn)
        px, py = px - cos * half + sin * gy * run.size, py - sin * half - cos * gy * run.size
        matrix = (cos * unit, sin * unit, sin * unit, -cos * unit, px, py)
        glyph.face.font.draw_glyph_with_pen(glyph.id, TransformPen(pen, matrix))
    return pen.getCommands()


def _path_points(root: Any, text_path: Any) -> list[tuple[float, float]]:
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


def _stretch(verb: str, start: tuple, given: tuple) -> list[tuple[float, float]]:
    if verb in ("moveTo", "lineTo"):
        return [given[0]]
    control = [start, *given]
    degree = len(control) - 1
    points = []
    for step in range(1, CURVE_STEPS + 1):
        t = step / CURVE_STEPS
        weights = [math.comb(degree, k) * t**k * (1 - t) ** (degree - k) for k in range(degree + 1)]
        points.append(
            tuple(
                sum(w * p[axis] for w, p in zip(weights, control, strict=True)) for axis in (0, 1)
            )
        )
    return points


def _at(points: list, along: float) -> tuple[float, float, float] | None:
    """(x, y, direction) so far along a line of points; None beyond its ends."""
    if along < 0:
        return None
    for (x0, y0), (x1, y1) in zip(points, points[1:], strict=False):
        far = math.hypot(x1 - x0, y1 - y0)
        if far and along <= far:
            share = along / far
            return x0 + (x1 - x0) * share, y0 + (y1 - y0) * share, math.atan2(y1 - y0, x1 - x0)
        along -= far
    return None


def _number(value: float) -> str:
    return f"{value:.3f}".rstrip("0").rstrip(".")
