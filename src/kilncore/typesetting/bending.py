"""Words along a line that is not straight.

A letter is turned as it is, about the middle of its advance, onto the line. Letters that lie over
one another, as those of joined scripts do, are bent together: each point of their outlines comes to
lie where the line says, so that they stay joined.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np

from kilncore.typesetting.baselines import Baseline
from kilncore.typesetting.laid_out import LaidOut, laid_out
from kilncore.typesetting.outline import outlines_of, overlapping, touching
from kilncore.typesetting.shaping import Glyph, Setting

FINEST = 0.02  # ems: longer edges are cut before they are bent
SAMPLES = 33  # of a line, by which its box is measured
HELD, LETTERS, OUTLINES = "held", "letters", "outlines"


@dataclass(frozen=True)
class Bend:
    """baseline : of the first line. spread : ems more from each letter to the next. how : HELD by
    which letters lie over one another, or all of them as LETTERS or as OUTLINES. box : (left, top,
    right, bottom) of the words on it, where that is told; else as far as they reach.
    """

    baseline: Baseline
    spread: float = 0.0
    how: str = HELD
    box: tuple[float, float, float, float] | None = None


@dataclass(frozen=True, eq=False)
class Bent:
    """laid : words as they are set straight. middle : of their box, on the baseline's plane. width,
    height : of it. start : where they are aligned, from the middle. All in ems.
    """

    laid: LaidOut
    bend: Bend
    middle: tuple[float, float] = field(init=False)
    width: float = field(init=False)
    height: float = field(init=False)
    start: tuple[float, float] = field(init=False)

    def __post_init__(self):
        left, top, right, bottom = self.bend.box or self._reach()
        middle = (left + right) / 2, (top + bottom) / 2
        x, y = self.bend.baseline.place(0.0, 0.0)
        for name, value in (
            ("middle", middle),
            ("width", max(right - left, 1e-3)),
            ("height", max(bottom - top, 1e-3)),
            ("start", (x - middle[0], y - middle[1])),
        ):
            object.__setattr__(self, name, value)

    def _reach(self) -> tuple[float, float, float, float]:
        """Of the caps of all lines."""
        found = []
        for number, (left, _, starts) in enumerate(self.laid.lines):
            end = self.laid.line_ends[number]
            spread = self._spread(number, len(starts))
            s = np.linspace(
                left - self._anchor + spread[0], end - self._anchor + spread[1], SAMPLES
            )
            line = self._line(number)
            found += [line.places(s, np.full_like(s, y)) for y in (0.0, -self.laid.cap)]
        points = np.concatenate(found)
        (left, top), (right, bottom) = points.min(0), points.max(0)
        return float(left), float(top), float(right), float(bottom)

    @property
    def _anchor(self) -> float:
        """Where the words are aligned, as they are set straight."""
        return self.laid.start[0]

    def _spread(self, number: int, letters: int) -> tuple[float, float]:
        """How far the first and the last letter of a line move."""
        first = -self.laid.share * (letters - 1) * self.bend.spread
        return first, first + (letters - 1) * self.bend.spread

    def _line(self, number: int) -> Baseline:
        return self.bend.baseline.lowered(self._drop(number)) if number else self.bend.baseline

    def _drop(self, number: int) -> float:
        return self.laid.lines[number][1] - self.laid.lines[0][1]

    def edges(self, by: float = 0.0) -> np.ndarray:
        """(N, 4) edges of the letters, in ems from the middle. by : as of `edges_of`."""
        found = []
        for group, edges in self._groups(by):
            placed = (
                self._bent(group[0], edges) if len(group) > 1 else self._turned(group[0], edges)
            )
            found.append(placed)
        whole = np.concatenate(found) if found else np.empty((0, 4))
        return whole - np.array(self.middle * 2)

    def letters(self) -> list[tuple[float, float, float]]:
        """(x, y, turn) of the middle of each letter's foot, from the middle."""
        found = dict.fromkeys((one.line, one.middle) for one in self.laid.glyphs)
        (mx, my) = self.middle
        placed = []
        for line, at in found:
            s, (x, y) = self._foot(line, at)
            placed.append((x - mx, y - my, self._line(line).turn(s)))
        return placed

    def letter_at(self, x: float, y: float) -> int | None:
        """The character of the text whose letter stands nearest to a place, from the middle."""
        best, nearest = None, math.inf
        for number, (left, _, starts) in enumerate(self.laid.lines):
            first = sum(len(line) + 1 for line in self.laid.text.split("\n")[:number])
            ends = [*starts[1:], self.laid.line_ends[number] - left]
            for column, (start, end) in enumerate(zip(starts, ends, strict=True)):
                _, (px, py) = self._foot(number, left + (start + end) / 2, -self.laid.cap / 2)
                far = math.hypot(px - self.middle[0] - x, py - self.middle[1] - y)
                if far < nearest:
                    best, nearest = first + column, far
        return best

    def _foot(self, line: int, at: float, up: float = 0.0) -> tuple[float, tuple[float, float]]:
        """(s, place) of a place of a line as it is set straight."""
        s = self._s(line, at)
        return s, self._line(line).place(s, up)

    def _s(self, line: int, at: float) -> float:
        number = self._numbers[line].index(at) if at in self._numbers[line] else None
        if not self.bend.spread or not self._numbers[line]:
            return at - self._anchor
        if number is None:
            number = int(np.argmin(np.abs(np.array(self._numbers[line]) - at)))
        first = -self.laid.share * (len(self._numbers[line]) - 1)
        return at - self._anchor + (first + number) * self.bend.spread

    @property
    def _numbers(self) -> dict[int, list[float]]:
        """The middles of the letters of each line, from left to right."""
        known = self.__dict__.get("_known")
        if known is None:
            known = {number: [] for number in range(len(self.laid.lines))}
            for one in self.laid.glyphs:
                if one.middle not in known[one.line]:
                    known[one.line].append(one.middle)
            known = {number: sorted(found) for number, found in known.items()}
            object.__setattr__(self, "_known", known)
        return known

    def _groups(self, by: float) -> Iterator[tuple[list[Glyph], np.ndarray]]:
        """(the letters, their edges) of what is placed together, where it is set straight. Of
        letters that are turned each stands alone: what is told of it is its first glyph.
        """
        for line in range(len(self.laid.lines)):
            letters: dict[float, list[Glyph]] = {}
            for one in self.laid.glyphs:
                if one.line == line:
                    letters.setdefault(one.middle, []).append(one)
            for together in self._together(list(letters.values())):
                glyphs = [one for letter in together for one in letter]
                parts = [edges for _, edges in outlines_of(glyphs, by)]
                if parts:
                    firsts = [letter[0] for letter in together]
                    yield firsts, np.concatenate(parts)

    def _together(self, letters: list[list[Glyph]]) -> list[list[list[Glyph]]]:
        """Letters that are bent together."""
        if self.bend.how == LETTERS:
            return [[letter] for letter in letters]
        if self.bend.how == OUTLINES:
            return [letters] if letters else []
        groups: list[list[list[Glyph]]] = []
        for letter in letters:
            if groups and _joined(groups[-1][-1], letter):
                groups[-1].append(letter)
            else:
                groups.append([letter])
        return groups

    def _turned(self, letter: Glyph, edges: np.ndarray) -> np.ndarray:
        s, (x, y) = self._foot(letter.line, letter.middle)
        turn = self._line(letter.line).turn(s)
        cos, sin = math.cos(turn), math.sin(turn)
        across = edges[:, 0::2] - letter.middle
        down = edges[:, 1::2] - self.laid.lines[letter.line][1]
        out = np.empty_like(edges)
        out[:, 0::2] = x + cos * across - sin * down
        out[:, 1::2] = y + sin * across + cos * down
        return out

    def _bent(self, letter: Glyph, edges: np.ndarray) -> np.ndarray:
        fine = _cut(edges)
        line = letter.line
        at = fine[:, 0::2]
        s = at - self._anchor
        numbers = self._numbers[line]
        if self.bend.spread and len(numbers) > 1:  # what joins two letters is drawn out
            first = -self.laid.share * (len(numbers) - 1)
            s = s + (first + np.interp(at, numbers, np.arange(len(numbers)))) * self.bend.spread
        places = self._line(line).places(s, fine[:, 1::2] - self.laid.lines[line][1])
        return places.reshape(-1, 4)


@lru_cache(maxsize=256)
def bent(text: str, used: Setting, line_spacing: float, align: str, bend: Bend) -> Bent:
    """Words as they stand on a line."""
    return Bent(laid_out(text, used, line_spacing, align), bend)


@lru_cache(maxsize=256)
def bent_edges(
    text: str, used: Setting, line_spacing: float, align: str, bend: Bend, by: float = 0.0
) -> np.ndarray:
    """(N, 4) edges of their outline, in ems from the middle of their box."""
    return bent(text, used, line_spacing, align, bend).edges(by)


def _joined(one: list[Glyph], other: list[Glyph]) -> bool:
    """Whether letters that stand side by side lie over one another."""
    near = touching([*one, *other])
    if len(near) == len(touching(one)) + len(touching(other)):
        return False
    return any(overlapping(a, b) for a in one for b in other)


def _cut(edges: np.ndarray) -> np.ndarray:
    """Long edges in pieces."""
    long = np.hypot(edges[:, 2] - edges[:, 0], edges[:, 3] - edges[:, 1])
    counts = np.maximum(np.ceil(long / FINEST), 1).astype(int)
    owner = np.repeat(np.arange(len(edges)), counts)
    step = np.arange(len(owner)) - np.repeat(np.cumsum(counts) - counts, counts)
    first, last = (step / counts[owner])[:, None], ((step + 1) / counts[owner])[:, None]
    a, b = edges[owner, :2], edges[owner, 2:]
    whole = last == 1
    ends = np.where(whole, b, a + (b - a) * last)
    return np.concatenate([a + (b - a) * first, ends], 1)
