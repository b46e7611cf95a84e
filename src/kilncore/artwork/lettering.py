"""Lettering: live text, shaped by HarfBuzz, its outlines united so that overlaps never show.

The box of a lettering reaches from the cap height of its first line to the baseline of its last,
and as wide as its widest line; descenders and swashes may hang out of it. Its middle is the mark's
middle. Its frame starts at the alignment point of its first baseline, and its unit is the type
size: a line more leaves wear and strokes as they are.
"""

from dataclasses import dataclass, field
from difflib import SequenceMatcher
from functools import lru_cache
from typing import Annotated, Literal

import numpy as np
import pathops
from fontTools.pens.transformPen import TransformPen
from pydantic import AfterValidator

from kilncore.artwork.base import Art, Drawing, art, extent_of
from kilncore.artwork.coverage import coverage
from kilncore.geometry.affine import Affine
from kilncore.geometry.box import NOWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.protocols import NodeReader
from kilncore.model.setting import setting
from kilncore.model.units import Length
from kilncore.pixels.colour import HexColour, hex_to_rgb
from kilncore.typesetting.fonts import FONTS, face
from kilncore.typesetting.outline import Outline, flattened
from kilncore.typesetting.shaping import Line, shaped

ALIGNMENTS = (("left", "Left"), ("centre", "Centre"), ("right", "Right"))
SHARES = {"left": 0, "centre": 0.5, "right": 1}  # of a line's slack that lies to its left


def _known_font(name: str) -> str:
    if name not in FONTS:
        raise ValueError(f"a font must be one of {', '.join(FONTS)}")
    return name


@art("lettering", title="Lettering", sentence="Live text: change it and every step stays.")
class Lettering(Art):
    """size : of the em. tracking : thousandths of the em added after each letter. line_spacing :
    times the size.
    """

    kind: Literal["lettering"] = "lettering"
    text: str = setting(..., "Words", "", "text", reload=True, max_length=500)
    font: Annotated[str, AfterValidator(_known_font)] = setting(
        "alfa-slab-one", "Font", "", "choice", choices=tuple(FONTS.items())
    )
    size: Length = setting(..., "Size", "Of the em.", "length", soft=(10, 1000))
    tracking: float = setting(
        0,
        "Tracking",
        "Room between letters.",
        "slider",
        unit="‰ em",
        soft=(-100, 400),
        step=1,
        ge=-500,
        le=2000,
    )
    line_spacing: float = setting(
        1.1, "Line spacing", "", "slider", unit="x", soft=(0.6, 2.5), step=0.01, ge=0.3, le=5
    )
    align: Literal["left", "centre", "right"] = setting(
        "centre", "Alignment", "", "choice", choices=ALIGNMENTS
    )
    colour: HexColour = setting("#20262a", "Colour", "", "colour")

    def outline(self) -> Outline:
        """Its outline, in ems."""
        return _laid_out(*self._text_layout).outline

    @property
    def _text_layout(self) -> tuple:
        return self.text, self.font, self.tracking, self.line_spacing, self.align

    def box_px(self, ppi: float, piece_height: float) -> tuple[float, float]:
        """Width and height of the box in document px, before placement."""
        em, outline = self.unit_px(ppi, piece_height), self.outline()
        return outline.width * em, outline.height * em

    def frame_px(self, ppi: float, piece_height: float) -> tuple[float, float, float]:
        """The alignment point of the first baseline, and the type size."""
        em, found = self.unit_px(ppi, piece_height), _laid_out(*self._text_layout)
        return found.start[0] * em, found.start[1] * em, em

    def frame_shift(self, earlier: Art) -> tuple[float, float]:
        """How the longest run of letters that stays has moved from the alignment point, in ems."""
        if not isinstance(earlier, Lettering):
            return 0.0, 0.0
        run = SequenceMatcher(None, earlier.text, self.text, autojunk=False).find_longest_match()
        before, after = (_laid_out(*art._text_layout) for art in (earlier, self))
        if not run.size:
            return 0.0, 0.0
        old, new = before.letter(run.a), after.letter(run.b)
        return new[0] - old[0], new[1] - old[1]

    def unit_px(self, ppi: float, piece_height: float) -> float:
        """Document px per unit of the outline: the em."""
        return max(self.size.in_px(ppi, piece_height), 0.01)

    def drawing(self, placed: Affine, scale: float, ppi: float, piece_height: float) -> Drawing:
        """Its outline, filled."""
        unit = self.unit_px(ppi, piece_height)
        return LetteringDrawing(self, placed.of(Affine(unit, 0, 0, unit, 0, 0)).matrix)

    def missing(self) -> str:
        """The characters of the text that the font does not have."""
        known = face(self.font).characters
        return "".join(
            dict.fromkeys(c for c in self.text if not c.isspace() and ord(c) not in known)
        )


@dataclass(frozen=True)
class LetteringDrawing(Drawing):
    """matrix : outline units (ems) to output px."""

    art: Lettering
    matrix: tuple[float, ...]
    key: str = field(init=False)
    extent: Box = field(init=False)
    tint: tuple[float, ...] = field(init=False)

    def __post_init__(self):
        edges = self.art.outline().placed(self.matrix)
        for name, value in (
            ("tint", tuple(float(c) for c in hex_to_rgb(self.art.colour))),
            ("key", key_of("lettering", self.art, self.matrix)),
            ("extent", extent_of(edges.reshape(-1, 2)) if len(edges) else NOWHERE),
        ):
            object.__setattr__(self, name, value)

    def planes(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(1, H, W) coverage."""
        placed = reader.once((self.key, "edges"), lambda: self.art.outline().placed(self.matrix))
        edges = placed[
            (placed[:, [1, 3]].max(1) > box.top) & (placed[:, [1, 3]].min(1) < box.bottom)
        ]
        return coverage(
            edges - np.array([box.left, box.top] * 2, np.float64), box.width, box.height
        )[None]


@dataclass(frozen=True, eq=False)
class _LaidOut:
    """start : the alignment point of the first baseline. lines : (x, y, starts) of each line. All
    in ems, from the middle.
    """

    outline: Outline
    start: tuple[float, float]
    lines: list
    text: str

    @property
    def nbytes(self) -> int:
        """Of its edges."""
        return self.outline.nbytes

    def letter(self, index: int) -> tuple[float, float]:
        """Where a character of the text stands, from the alignment point."""
        number, column = (
            self.text.count("\n", 0, index),
            index - (self.text.rfind("\n", 0, index) + 1),
        )
        x, y, starts = self.lines[number]
        along = starts[column] if column < len(starts) else (starts[-1] if starts else 0.0)
        return x + along - self.start[0], y - self.start[1]


@lru_cache(maxsize=256)
def _laid_out(text: str, font: str, tracking: float, line_spacing: float, align: str) -> _LaidOut:
    used = face(font)
    lines = [shaped(line, used, tracking / 1000) for line in text.split("\n")]
    width = max(line.width for line in lines)
    height = used.cap_height / used.units + (len(lines) - 1) * line_spacing
    share, cap = SHARES[align], used.cap_height / used.units
    path, places = pathops.Path(), []
    for number, line in enumerate(lines):
        left, baseline = (
            share * (width - line.width) - width / 2,
            cap + number * line_spacing - height / 2,
        )
        _draw(path, line, used, left, baseline)
        places.append((left, baseline, line.starts))
    path.convertConicsToQuads()
    path.simplify(fix_winding=True)
    return _LaidOut(
        Outline(flattened(path), width, height),
        ((share - 0.5) * width, cap - height / 2),
        places,
        text,
    )


def _draw(path, line: Line, used, left: float, baseline: float) -> None:
    # united at 1000 units to the em, where Skia's path operations are at ease
    for glyph, x, y in line.glyphs:
        unit = 1000 / used.units
        matrix = (unit, 0, 0, -unit, (left + x) * 1000, (baseline - y) * 1000)
        used.font.draw_glyph_with_pen(glyph, TransformPen(path.getPen(), matrix))
