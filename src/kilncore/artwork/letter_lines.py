"""Lines around and within letters: an outline, a second one at a distance, one inside, one that is
dropped.

All of them are grown or shrunk from the letters' own outlines, so that they are sharp at any size.
"""

from collections.abc import Callable
from typing import Any, Literal

import numpy as np

from kilncore.artwork.inked import Ink
from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.model.units import Length
from kilncore.pixels.colour import HexColour

SIDES = (("none", "None"), ("inside", "Inside"), ("middle", "Middle"), ("outside", "Outside"))
MOST = 1.0  # ems: no line is broader, or farther away
LINED = "outlined=inside,middle,outside"


def _length(value: float, title: str, soft: tuple[float, float], if_: str, text: str = "") -> Any:
    return setting(Length(value=value, unit="px"), title, text, "length", soft=soft, if_=if_)


class LetterLines(Model):
    """outlined : where the outline lies. second : one around it, at a distance. inline : a line
    within the letters. drop : their outline once more, moved, and cut off at a distance from them.
    """

    outlined: Literal["none", "inside", "middle", "outside"] = setting(
        "none", "Outline", "Where it lies.", "choice", choices=SIDES, reload=True
    )
    width: Length = _length(8, "Line width", (0, 60), LINED)
    colour: HexColour = setting("#b23a1c", "Line colour", "", "colour", if_=LINED)
    second: bool = setting(False, "Second outline", "", "toggle", reload=True)
    second_gap: Length = _length(8, "At a distance of", (0, 80), "second")
    second_width: Length = _length(5, "Its width", (0, 60), "second")
    second_colour: HexColour = setting("#b23a1c", "Its colour", "", "colour", if_="second")
    inline: bool = setting(False, "Inline", "A line within the letters.", "toggle", reload=True)
    inset: Length = _length(8, "From their edge", (0, 80), "inline")
    inline_width: Length = _length(5, "Its width", (0, 60), "inline")
    inline_colour: HexColour = setting("#f4f0e7", "Its colour", "", "colour", if_="inline")
    drop: bool = setting(False, "Drop line", "", "toggle", reload=True)
    across: Length = _length(14, "Across", (-80, 80), "drop")
    down: Length = _length(14, "Down", (-80, 80), "drop")
    drop_gap: Length = _length(4, "Cut off at", (0, 60), "drop", "From the letters.")
    drop_colour: HexColour = setting("#20262a", "Its colour", "", "colour", if_="drop")

    def inks(
        self, colour: str, edges: Callable[[float], np.ndarray], ems: Callable[[Length], float]
    ) -> tuple[tuple[Ink, ...], int]:
        """(inks, which of them is the letters' own). colour : the letters'. edges : of them, grown
        by so many ems. ems : a length in ems.
        """

        def length(one: Length) -> float:
            return round(min(max(ems(one), -MOST), MOST), 4)

        wide = max(length(self.width), 0.0) if self.outlined != "none" else 0.0
        outer = wide * {"outside": 1, "middle": 0.5}.get(self.outlined, 0)
        inner = outer - wide
        inks = []
        if self.drop:
            moved = edges(outer) + np.array([length(self.across), length(self.down)] * 2)
            inks.append(
                Ink(moved, self.drop_colour, edges(outer + max(length(self.drop_gap), 0.0)))
            )
        if self.second:
            gap = outer + max(length(self.second_gap), 0.0)
            broad = max(length(self.second_width), 0.0)
            inks.append(Ink(edges(gap + broad), self.second_colour, edges(gap)))
        if wide:
            inks.append(Ink(edges(outer), self.colour))
        inks.append(Ink(edges(inner), colour))
        body = len(inks) - 1
        if self.inline:
            at = inner - max(length(self.inset), 0.0)
            within = edges(at - max(length(self.inline_width), 0.0))
            inks.append(Ink(edges(at), self.inline_colour, within))
        return tuple(inks), body
