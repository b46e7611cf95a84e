"""Shaping a line of text: which glyphs, and where, by HarfBuzz, run by run."""

from collections.abc import Callable
from dataclasses import dataclass

import uharfbuzz as hb

from kilncore.errors import KilnError
from kilncore.typesetting.bidi import reordered
from kilncore.typesetting.fonts import Face, face
from kilncore.typesetting.runs import COMMON, Run, runs_of

JOINED = frozenset(("Arab", "Syrc", "Mong", "Nkoo", "Mand", "Rohg", "Phag"))
MOST_GLYPHS = 6000  # of a line
CASES: dict[str, Callable[[str], str]] = {"typed": str, "capitals": str.upper, "small": str.lower}


@dataclass(frozen=True)
class Setting:
    """How text is set. axes : (tag, value). tracking : in ems, after each letter. features : (tag,
    whether it is on) of those that are switched by hand. case : one of CASES.
    """

    font: str
    axes: tuple[tuple[str, float], ...] = ()
    tracking: float = 0.0
    kerning: bool = True
    features: tuple[tuple[str, bool], ...] = ()
    case: str = "typed"

    @property
    def face(self) -> Face:
        """Its face; KilnError if it is not there."""
        return face(self.font, self.axes)


@dataclass(frozen=True)
class Glyph:
    """One glyph of a face. x, y : of its origin from the line's start, in ems, y upward. middle :
    the x in the middle of the letter that it is of, its marks and all. line : the number of its
    line.
    """

    face: Face
    id: int
    x: float
    y: float
    middle: float = 0.0
    line: int = 0


@dataclass(frozen=True)
class Line:
    """glyphs : from left to right. width : in ems, without the last letter's tracking. starts : the
    x of each of its characters.
    """

    glyphs: list[Glyph]
    width: float
    starts: list[float]


def shaped(text: str, setting: Setting) -> Line:
    """One line of text, without breaks; KilnError if its font makes too many glyphs of it."""
    used = setting.face
    recase = CASES[setting.case]
    characters = [(char, n) for n, one in enumerate(text) for char in recase(one)]
    runs = runs_of(characters, used)
    glyphs, x, starts, spaced = [], 0.0, [None] * len(text), False
    for run in reordered(runs, [run.level for run in runs]):
        tracking = 0.0 if run.script in JOINED else setting.tracking
        for glyph, index, last in _glyphs(run, setting, tracking, x):
            if starts[index] is None:
                starts[index] = glyph.x
            if not run.gap:
                glyphs.append(glyph)
            x, spaced = last, bool(tracking)
        if len(glyphs) > MOST_GLYPHS:
            raise KilnError("These words come to too many glyphs in this font. Use fewer.")
    return Line(glyphs, max(x - (setting.tracking if spaced else 0.0), 0.0), _filled(starts))


def _glyphs(run: Run, setting: Setting, tracking: float, x: float):
    """(glyph, index of its character, where the next one begins) of a run that begins at x."""
    buffer = hb.Buffer()
    buffer.add_codepoints([code for code, _ in run.characters])
    buffer.direction = "rtl" if run.right_to_left else "ltr"
    buffer.script = "Latn" if run.script in COMMON else run.script
    buffer.guess_segment_properties()
    hb.shape(run.face.font, buffer, _features(setting, tracking))
    units = run.face.units
    placed = zip(buffer.glyph_infos or [], buffer.glyph_positions or [], strict=True)
    shapes = [(info, position) for info, position in placed]
    wide: dict[int, float] = {}
    for info, position in shapes:
        wide[info.cluster] = wide.get(info.cluster, 0.0) + position.x_advance / units
    begins: dict[int, float] = {}
    for number, (info, position) in enumerate(shapes):
        middle = begins.setdefault(info.cluster, x) + wide[info.cluster] / 2
        left, up = x + position.x_offset / units, position.y_offset / units
        glyph = Glyph(run.face, info.codepoint, left, up, middle)
        x += position.x_advance / units
        if number + 1 == len(shapes) or shapes[number + 1][0].cluster != info.cluster:
            x += tracking  # once a letter, whatever marks are on it
        yield glyph, run.characters[min(info.cluster, len(run.characters) - 1)][1], x


def _features(setting: Setting, tracking: float) -> dict[str, bool]:
    """Spaced letters are not joined: common practice, and CSS Text says the same of
    letter-spacing. What is switched by hand stands.
    """
    joined = {"liga": False, "clig": False} if tracking else {}
    return {"kern": setting.kerning, **joined, **dict(setting.features)}


def _filled(starts: list) -> list[float]:
    """The starts of all characters: those that are drawn together with the one before stand where
    that does.
    """
    last = 0.0
    for number, start in enumerate(starts):
        last = starts[number] = last if start is None else start
    return starts
