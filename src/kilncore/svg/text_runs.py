"""The characters of a text of an SVG: which there are, where they are put, which are shaped
together.

Sources: SVG 1.1, chapter 10 (positions of single characters, white space), CSS 2.1 (sizes).
"""

import re
from dataclasses import dataclass
from typing import Any

from kilncore.svg.parsing import local

DEFAULT_SIZE = 16.0
LENGTH = re.compile(r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)(px|pt|pc|mm|cm|in|em|ex|%|)\s*")
PX = {"": 1, "px": 1, "pt": 4 / 3, "pc": 16, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96}
SIZES = {"xx-small": 9, "x-small": 10, "small": 13, "medium": 16, "large": 18, "x-large": 24}
SPACE = "{http://www.w3.org/XML/1998/namespace}space"
POSITIONS = ("x", "y", "dx", "dy")


@dataclass
class Character:
    """One character. owner : the element whose style it has. x, y : where it is put, None if it
    follows. path : the element of the path that it runs along. offset : where that begins, as it
    is written.
    """

    text: str
    owner: object
    x: float | None = None
    y: float | None = None
    dx: float = 0.0
    dy: float = 0.0
    path: object = None
    offset: str = "0"


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
    offset: str = "0"
    font: Any = None
    size: float = 0.0
    line: Any = None
    wide: float = 0.0


def inherited(element: Any, name: str) -> str | None:
    """What an element or the nearest one around it says."""
    while element is not None:
        value = element.get(name)
        if value and value.strip() != "inherit":
            return value.strip()
        element = element.getparent()
    return None


def characters(text: Any) -> list[Character]:
    """All of a text element, in order."""
    letters: list[Character] = []
    _gather(text, letters, None, "0")
    keeps = text.get(SPACE) == "preserve" or (inherited(text, "white-space") or "").startswith(
        "pre"
    )
    letters = letters if keeps else _collapsed(letters)
    _position(text, letters)
    return letters


def _gather(element: Any, letters: list, path: Any, offset: str) -> None:
    if local(element) == "textPath":
        path, offset = element, element.get("startOffset", "0")
    letters += [_one(c, element, path, offset) for c in element.text or ""]
    for child in element:
        if local(child) in ("tspan", "textPath", "a"):
            _gather(child, letters, path, offset)
        letters += [_one(c, element, path, offset) for c in child.tail or ""]


def _one(text: str, owner: Any, path: Any, offset: str) -> Character:
    return Character(" " if text in "\t\n\r" else text, owner, path=path, offset=offset)


def _collapsed(letters: list[Character]) -> list[Character]:
    """White space as it is by default: runs of it are one space, at the ends there is none."""
    kept: list[Character] = []
    for one in letters:
        if one.text != " " or kept and kept[-1].text != " ":
            kept.append(one)
    while kept and kept[-1].text == " ":
        kept.pop()
    return kept


def _position(text: Any, letters: list[Character]) -> None:
    """The lists of x, y, dx and dy of an element count its characters; inner ones win."""
    sides = dict(zip("xy", _viewport(text), strict=True))
    for element in text.iter():
        within = [one for one in letters if element in _ancestry(one.owner, text)]
        for name in POSITIONS:
            values = re.split(r"[\s,]+", (element.get(name) or "").strip())
            for one, value in zip(within, values, strict=False):
                number = length(value, element, sides[name[-1]])
                if number is not None:
                    setattr(one, name, number)


def _viewport(element: Any) -> tuple[float, float]:
    """What % of x and y are of: the view box of the nearest svg around, or its size, px."""
    while element is not None and local(element) != "svg":
        element = element.getparent()
    if element is None:
        return 0.0, 0.0
    box = re.split(r"[\s,]+", (element.get("viewBox") or "").strip())
    sides = box[2:] if len(box) == 4 else (element.get("width"), element.get("height"))
    wide, tall = (length(side, None) or 0.0 for side in sides)
    return wide, tall


def _ancestry(owner: Any, text: Any):
    ancestors = [owner]
    while owner is not text:
        owner = owner.getparent()
        ancestors.append(owner)
    return ancestors


def length(value: str | None, element: Any, whole: float = 0.0) -> float | None:
    """A length in px; None if it is none. element : whose type size em is of. whole : what % is
    of, px.
    """
    match = LENGTH.fullmatch(value or "")
    if not match or abs(number := float(match[1])) > 1e7:
        return None
    if match[2] == "%":
        return number * whole / 100
    if match[2] in ("em", "ex"):
        return number * type_size(element) * (1 if match[2] == "em" else 0.5)
    return number * PX[match[2]]


def runs_of(letters: list[Character]) -> list[Run]:
    """Characters that follow one another without a place of their own, in one style."""
    runs: list[Run] = []
    for one in letters:
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


def type_size(element: Any) -> float:
    """The type size in px, by CSS 2.1: % and em are of the parent's."""
    while element is not None:
        value = (element.get("font-size") or "").strip()
        if value and value != "inherit":
            match = LENGTH.fullmatch(value)
            parent = element.getparent()
            if match and match[2] in ("em", "ex", "%"):
                share = float(match[1]) * {"em": 1, "ex": 0.5, "%": 0.01}[match[2]]
                return min(share * (type_size(parent) if parent is not None else DEFAULT_SIZE), 1e5)
            if match:
                return min(max(float(match[1]), 0.0) * PX[match[2]], 1e5)
            return SIZES.get(value, DEFAULT_SIZE)
        element = element.getparent()
    return DEFAULT_SIZE
