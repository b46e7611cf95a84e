"""Words in lines, each aligned to the others: where their characters and glyphs come to stand."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from kilncore.typesetting.outline import edges_of
from kilncore.typesetting.shaping import Glyph, Setting, shaped

SHARES = {"left": 0, "centre": 0.5, "right": 1}  # of a line's slack that lies to its left
CAPS = 0.7  # of the type size: about how tall capitals are


@dataclass(frozen=True, eq=False)
class LaidOut:
    """Words as they stand. start : the alignment point of the first baseline. lines : (x, y,
    starts) of each line. line_ends : where each ends. cap : how tall capitals are. share : of a
    line's slack that lies to its left. All lengths in ems, from the middle.
    """

    width: float
    height: float
    start: tuple[float, float]
    lines: list
    text: str
    glyphs: list[Glyph]
    line_ends: list[float]
    cap: float
    share: float

    def letter_at(self, x: float, y: float) -> int | None:
        """The character of the text that stands at a place, in ems from the middle; None of an
        empty line.
        """
        number = min(range(len(self.lines)), key=lambda n: abs(self.lines[n][1] - CAPS / 2 - y))
        left, _, starts = self.lines[number]
        before = [column for column, start in enumerate(starts) if left + start <= x + 1e-6]
        if not starts:
            return None
        first = sum(len(line) + 1 for line in self.text.split("\n")[:number])
        return first + min(max(before, default=0), len(self.text.split("\n")[number]) - 1)

    def letter(self, index: int) -> tuple[float, float]:
        """Where a character of the text stands, from the middle."""
        number, column = (
            self.text.count("\n", 0, index),
            index - (self.text.rfind("\n", 0, index) + 1),
        )
        x, y, starts = self.lines[number]
        return x + (starts[column] if column < len(starts) else (starts[-1] if starts else 0.0)), y


@lru_cache(maxsize=512)
def laid_out(text: str, used: Setting, line_spacing: float, align: str) -> LaidOut:
    """Lines of text, broken where the text is."""
    lines = [shaped(line, used) for line in text.split("\n")]
    width = max(line.width for line in lines)
    cap, share = used.face.cap_height / used.face.units, SHARES[align]
    height = cap + (len(lines) - 1) * line_spacing
    places, glyphs, ends = [], [], []
    for number, line in enumerate(lines):
        left = share * (width - line.width) - width / 2
        baseline = cap + number * line_spacing - height / 2
        places.append((left, baseline, line.starts))
        ends.append(left + line.width)
        glyphs += [
            Glyph(one.face, one.id, left + one.x, one.y - baseline, left + one.middle, number)
            for one in line.glyphs
        ]
    start = ((share - 0.5) * width, cap - height / 2)
    return LaidOut(width, height, start, places, text, glyphs, ends, cap, share)


@lru_cache(maxsize=256)
def edges_laid_out(
    text: str, used: Setting, line_spacing: float, align: str, by: float = 0.0
) -> np.ndarray:
    """(N, 4) edges of their outline, in ems from the middle. by : how far outside it they lie."""
    return edges_of(laid_out(text, used, line_spacing, align).glyphs, by)


def cased(text: str, case: str) -> str:
    """The text as its letters are shown: typed, in capitals or small."""
    return {"capitals": text.upper(), "small": text.lower()}.get(case, text)
