"""Lettering: live text, shaped by HarfBuzz, its outlines united so that overlaps never show.

The box of a lettering reaches from the cap height of its first line to the baseline of its last, and as wide as its
widest line; descenders and swashes may hang out of it. Its middle is the mark's middle.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Literal

import pathops
import uharfbuzz as hb
from fontTools.pens.transformPen import TransformPen
from pydantic import AfterValidator, Field

from kilncore.artwork.fonts import FONTS, face
from kilncore.artwork.outline import Outline, flattened
from kilncore.colour import HexColour
from kilncore.model import Model
from kilncore.units import Length


def _known_font(name: str) -> str:
    if name not in FONTS:
        raise ValueError(f"a font must be one of {', '.join(FONTS)}")
    return name


class Lettering(Model):
    """size : of the em. tracking : thousandths of the em added after each letter. line_spacing : times the size."""

    kind: Literal["lettering"] = "lettering"
    text: str = Field(max_length=500)
    font: Annotated[str, AfterValidator(_known_font)] = "alfa-slab-one"
    size: Length
    tracking: float = Field(0, ge=-500, le=2000)
    line_spacing: float = Field(1.1, ge=0.3, le=5)
    align: Literal["left", "centre", "right"] = "centre"
    colour: HexColour = "#20262a"

    def outline(self) -> "Outline":
        return _outline(self.text, self.font, self.tracking, self.line_spacing, self.align)

    def box_px(self, ppi: float, piece_height: float) -> tuple[float, float]:
        """Width and height of the box in document px, before placement."""
        em = max(self.size.in_px(ppi, piece_height), 0.01)
        outline = self.outline()
        return outline.width * em, outline.height * em

    def unit_px(self, ppi: float, piece_height: float) -> float:
        """Document px per unit of the outline: the em."""
        return max(self.size.in_px(ppi, piece_height), 0.01)

    def missing(self) -> str:
        """The characters of the text that the font does not have."""
        known = face(self.font).characters
        return "".join(dict.fromkeys(c for c in self.text if not c.isspace() and ord(c) not in known))


@dataclass(frozen=True)
class _Line:
    glyphs: list
    width: float


@lru_cache(maxsize=256)
def _outline(text: str, font: str, tracking: float, line_spacing: float, align: str) -> Outline:
    used = face(font)
    lines = [_shaped(line, used, tracking / 1000) for line in text.split("\n")]
    width = max(line.width for line in lines)
    height = used.cap_height / used.units + (len(lines) - 1) * line_spacing
    path = pathops.Path()
    for number, line in enumerate(lines):
        slack = {"left": 0, "centre": 0.5, "right": 1}[align] * (width - line.width)
        baseline = used.cap_height / used.units + number * line_spacing
        _draw(path, line, used, slack - width / 2, baseline - height / 2)
    path.convertConicsToQuads()
    path.simplify(fix_winding=True)
    return Outline(flattened(path), width, height)


def _shaped(text: str, used, tracking: float) -> _Line:
    """Glyphs as (id, x, y) in ems from the line's start, and the line's width without the last letter's tracking."""
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    # spaced letters are not joined: common practice, and CSS Text says the same of letter-spacing
    hb.shape(used.font, buffer, {"liga": tracking == 0, "clig": tracking == 0})
    glyphs, x = [], 0.0
    for info, position in zip(buffer.glyph_infos or [], buffer.glyph_positions or [], strict=True):
        glyphs.append((info.codepoint, x + position.x_offset / used.units, position.y_offset / used.units))
        x += position.x_advance / used.units + tracking
    return _Line(glyphs, max(x - tracking, 0) if glyphs else 0)


def _draw(path, line: _Line, used, left: float, baseline: float) -> None:
    # united at 1000 units to the em, where Skia's path operations are at ease
    for glyph, x, y in line.glyphs:
        unit = 1000 / used.units
        matrix = (unit, 0, 0, -unit, (left + x) * 1000, (baseline - y) * 1000)
        used.font.draw_glyph_with_pen(glyph, TransformPen(path.getPen(), matrix))
