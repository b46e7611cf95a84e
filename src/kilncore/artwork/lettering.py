"""Lettering: live text, shaped by HarfBuzz, its outlines united so that overlaps never show.

The box of a lettering reaches from the cap height of its first line to the baseline of its last,
and as wide as its widest line; descenders and swashes may hang out of it. Its middle is the mark's
middle. Its frame starts at the alignment point of its first baseline, and its unit is the type
size: a line more leaves wear and strokes as they are.

When words change, the alignment point of the first baseline stays where it lies on the piece.
"""

from collections.abc import Callable
from dataclasses import replace
from difflib import SequenceMatcher
from functools import partial
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, StringConstraints

from kilncore.artwork.along import ALONG, Along
from kilncore.artwork.base import Art, art
from kilncore.artwork.drawing import Drawing
from kilncore.artwork.filling import ArtFill, art_fill
from kilncore.artwork.inked import InkedDrawing
from kilncore.artwork.letter_lines import LetterLines
from kilncore.errors import MissingAsset
from kilncore.geometry.affine import Affine
from kilncore.graph.keys import key_of
from kilncore.model.files import FontHash
from kilncore.model.registry import OneOf
from kilncore.model.setting import setting
from kilncore.model.units import Length, ordinal
from kilncore.perspective.projection import Projection
from kilncore.pixels.colour import HexColour
from kilncore.typesetting.bending import Bend, Bent, bent, bent_edges
from kilncore.typesetting.fonts import Face, face
from kilncore.typesetting.laid_out import LaidOut, cased, edges_laid_out, laid_out
from kilncore.typesetting.outline import Outline
from kilncore.typesetting.runs import told_of
from kilncore.typesetting.shaping import Setting
from kilncore.typesetting.shipped import FONTS, STAND_INS

ALIGNMENTS = (("left", "Left"), ("centre", "Centre"), ("right", "Right"))
CASES = (("typed", "As typed"), ("capitals", "Capitals"), ("small", "Small letters"))
PLAIN = LetterLines()
NOMINAL = 300.0, 3000.0  # the page on which lines around letters are tried
GONE = "The font of these words is not there: they cannot be drawn. Choose another."
FontName: Any = Literal[tuple(FONTS)]
FontRef: Any = FontHash | FontName  # one's own, or one that ships
Tag = Annotated[str, StringConstraints(pattern=r"^[A-Za-z][A-Za-z0-9 ]{3}$")]


@art("lettering", title="Lettering", sentence="Live text: change it and every step stays.")
class Lettering(Art):
    """size : of the em. tracking : thousandths of the em added after each letter. line_spacing :
    times the size. features : OpenType features that are switched by hand. axes : of a variable
    font, by their tags.
    """

    kind: Literal["lettering"] = "lettering"
    text: str = setting(..., "Words", "", "text", reload=True, max_length=500)
    font: FontRef = setting("alfa-slab-one", "Face", "", "face", reload=True)
    size: Length = setting(..., "Size", "Of the em.", "length", soft=(10, 1000))
    axes: Annotated[dict[Tag, float], Field(max_length=16)] = setting({}, "Axes", "", "axes")
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
        1.1,
        "Line spacing",
        "",
        "slider",
        unit="x",
        soft=(0.6, 2.5),
        step=0.01,
        ge=0.3,
        le=5,
        fold=True,
    )
    align: Literal["left", "centre", "right"] = setting(
        "centre", "Alignment", "", "choice", choices=ALIGNMENTS
    )
    along: Annotated[Along, OneOf(ALONG)] | None = setting(
        None, "Stands on", "", "along", reload=True
    )
    lines: LetterLines = setting(LetterLines(), "Lines", "", "nested", fold=True)
    case: Literal["typed", "capitals", "small"] = setting(
        "typed", "Case", "", "choice", choices=CASES, fold=True
    )
    kerning: bool = setting(True, "Kerning", "", "toggle", fold=True)
    features: Annotated[dict[Tag, bool], Field(max_length=60)] = setting(
        {}, "Forms", "", "features", fold=True
    )
    fill: ArtFill = art_fill()
    colour: HexColour = setting("#20262a", "Colour", "", "colour", if_="!fill")
    mirrored: bool = setting(
        False, "Mirrored", "Left and right change places, as on a stamp.", "toggle", fold=True
    )

    def outline(self) -> Outline:
        """Its outline as it is set straight, in ems; KilnError if its font makes too much of the
        words.
        """
        laid = self._laid_out
        return Outline(edges_laid_out(*self._text_layout), laid.width, laid.height)

    def _bend(self, ppi: float, piece_height: float) -> Bend | None:
        """How its words stand on what they stand on; None of a straight line."""
        if self.along is None:
            return None
        return self.along.bend(self._laid_out, self._ems(ppi, piece_height))

    def _ems(self, ppi: float, piece_height: float) -> Callable[[Length], float]:
        unit = self.unit_px(ppi, piece_height)
        return lambda length: length.in_px(ppi, piece_height) / unit

    def _stands(self, ppi: float, piece_height: float) -> LaidOut | Bent:
        """Its words as they stand."""
        bend = self._bend(ppi, piece_height)
        return self._laid_out if bend is None else bent(*self._text_layout, bend)

    @property
    def setting(self) -> Setting:
        """How each of its lines is set."""
        return Setting(
            str(self.font),
            tuple(sorted(self.axes.items())),
            self.tracking / 1000,
            self.kerning,
            tuple(sorted(self.features.items())),
            self.case,
        )

    @property
    def face(self) -> Face:
        """Its face, its axes set; one that stands in, where its font is not there: it can still be
        placed, and given another font.
        """
        try:
            return self.setting.face
        except MissingAsset:
            return face(STAND_INS[0])

    @property
    def _text_layout(self) -> tuple:
        return self.text, self.setting, self.line_spacing, self.align

    @property
    def _laid_out(self) -> LaidOut:
        text, used, *more = self._text_layout
        try:
            return laid_out(text, used, *more)
        except MissingAsset:
            return laid_out(text, replace(used, font=STAND_INS[0], axes=()), *more)

    def letter_at(self, x: float, y: float, piece_ppi: float, piece_height: float) -> str:
        """The letter that stands at a place, in px of its own from its middle, in words: 'the
        second L'; '' where there is none.
        """
        laid = self._laid_out
        unit = self.unit_px(piece_ppi, piece_height)
        index = self._stands(piece_ppi, piece_height).letter_at(
            -x / unit if self.mirrored else x / unit, y / unit
        )
        if index is None or not laid.text[index].strip():
            return ""
        letter = cased(laid.text[index], self.case)
        text = cased(laid.text, self.case)
        if text.count(letter) == 1:
            return f"the {letter}"
        return f"the {ordinal(text[: index + 1].count(letter))} {letter}"

    def check(self) -> None:
        """KilnError if it cannot be drawn."""
        self.outline()
        if self.along is not None or self.lines != PLAIN:
            page = NOMINAL
            self.lines.inks(self.colour, partial(self._edges, self._bend(*page)), self._ems(*page))

    def box_px(self, ppi: float, piece_height: float) -> tuple[float, float]:
        """Width and height of the box in document px, before placement."""
        em, stands = self.unit_px(ppi, piece_height), self._stands(ppi, piece_height)
        return stands.width * em, stands.height * em

    def frame_px(self, ppi: float, piece_height: float) -> tuple[float, float, float]:
        """The alignment point of the first baseline, and the type size."""
        em, stands = self.unit_px(ppi, piece_height), self._stands(ppi, piece_height)
        return stands.start[0] * em, stands.start[1] * em, em

    def frame_shift(self, earlier: Art) -> tuple[float, float]:
        """How the longest run of letters that stays has moved from the alignment point, in ems."""
        kept = self._kept(earlier)
        if kept is None:
            return 0.0, 0.0
        (old, before), (new, after) = kept
        way = -1 if self.mirrored else 1
        return (
            (way * new[0] - after.start[0]) - (way * old[0] - before.start[0]),
            (new[1] - after.start[1]) - (old[1] - before.start[1]),
        )

    def middle_shift(self, earlier: Art, ppi: float, piece_height: float) -> tuple[float, float]:
        """What keeps the alignment point of the first baseline in place when words change, and a
        line that is not straight whatever is done to it.
        """
        if not isinstance(earlier, Lettering):
            return 0.0, 0.0
        if self.along is not None and earlier.along is not None:
            (x0, y0), (x, y) = (one.plane_px(ppi, piece_height) for one in (earlier, self))
            return (x0 - x) * (-1 if self.mirrored else 1), y0 - y
        if earlier.text == self.text:
            return 0.0, 0.0
        before, after = (one.frame_px(ppi, piece_height) for one in (earlier, self))
        return (before[0] - after[0]) * (-1 if self.mirrored else 1), before[1] - after[1]

    def kept_shift(self, earlier: Art, ppi: float, piece_height: float) -> tuple | None:
        """How the longest run of letters that stays has moved from the middle of the box, in px."""
        words: Any = earlier
        kept = self._kept(earlier) if getattr(earlier, "text", None) != self.text else None
        if kept is None:
            return None
        (old, _), (new, _) = kept
        before, after = (one.unit_px(ppi, piece_height) for one in (words, self))
        way = -1 if self.mirrored else 1
        return way * (new[0] * after - old[0] * before), new[1] * after - old[1] * before

    def _kept(self, earlier: Art):
        """((where its first letter stood from the middle, the layout), the same now) of the longest
        run of letters that stays; None if none does.
        """
        if (
            not isinstance(earlier, Lettering)
            or self.along is not None
            or earlier.along is not None
        ):
            return None
        run = SequenceMatcher(None, earlier.text, self.text, autojunk=False).find_longest_match()
        if not run.size:
            return None
        before, after = earlier._laid_out, self._laid_out
        return (before.letter(run.a), before), (after.letter(run.b), after)

    def unit_px(self, ppi: float, piece_height: float) -> float:
        """Document px per unit of the outline: the em."""
        return max(self.size.in_px(ppi, piece_height), 0.01)

    def drawing(self, placed: Affine, scale: float, ppi: float, piece_height: float) -> Drawing:
        """Its outline, filled."""
        return self._inked(placed, ppi, piece_height, None)

    def _inked(
        self, placed: Affine, ppi: float, piece_height: float, projection: Projection | None
    ) -> Drawing:
        ems, bend = self._ems(ppi, piece_height), self._bend(ppi, piece_height)
        inks, body = self.lines.inks(self.colour, partial(self._edges, bend), ems)
        lined = len(inks) > 1  # without lines there is nothing that its size in px would change
        lines = (self.lines, self.unit_px(ppi, piece_height)) if lined else ()
        told = key_of("lettering", self._text_layout, bend, *lines)
        matrix = self._matrix(placed, ppi, piece_height)
        return InkedDrawing(told, inks, matrix, projection, body)

    def plane_px(self, ppi: float, piece_height: float) -> tuple[float, float]:
        """Where the origin of the line that it stands on lies from the middle of its box."""
        stands, em = self._stands(ppi, piece_height), self.unit_px(ppi, piece_height)
        x, y = stands.middle if isinstance(stands, Bent) else (0.0, 0.0)
        return -x * em, -y * em

    def _edges(self, bend: Bend | None, by: float) -> np.ndarray:
        """Of its letters, grown by so many ems."""
        if bend is None:
            return edges_laid_out(*self._text_layout, by)
        return bent_edges(*self._text_layout, bend, by)

    def _matrix(self, placed: Affine, ppi: float, piece_height: float) -> tuple[float, ...]:
        """From ems to output px."""
        unit = self.unit_px(ppi, piece_height)
        across = -unit if self.mirrored else unit
        return placed.of(Affine(across, 0, 0, unit, 0, 0)).matrix

    def laid(
        self,
        placed: Affine,
        projection: Projection,
        scale: float,
        ppi: float,
        piece_height: float,
    ) -> Drawing:
        """Its outline laid, point by point, and filled."""
        return self._inked(placed, ppi, piece_height, projection)

    def notes(self) -> list[str]:
        """Which characters stand in another face, and which in none."""
        used = self.face
        gone = [GONE] if used.ref != str(self.font) else []
        return [*gone, *told_of(cased(self.text, self.case), used)]
