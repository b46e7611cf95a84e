"""A line of text cut into runs that are shaped alike: of one direction, one script, one face."""

import unicodedata
from dataclasses import dataclass, field

from fontTools.unicodedata import script

from kilncore.errors import KilnError
from kilncore.typesetting.bidi import levels
from kilncore.typesetting.fonts import Face, face
from kilncore.typesetting.shipped import STAND_INS

COMMON = ("Zyyy", "Zinh", "Zzzz")
SPACE = 0x20
UNSEEN = ("Cc", "Cs")  # control characters and halves of pairs take no room
JOINERS = {0x200C, 0x200D, 0x034F}


@dataclass
class Run:
    """characters : (code point, index in the line). level : of its direction. gap : whether its
    characters are in no face, and room is left for them.
    """

    face: Face
    level: int
    script: str
    characters: list[tuple[int, int]] = field(default_factory=list)
    gap: bool = False

    @property
    def right_to_left(self) -> bool:
        """Whether its level is odd."""
        return bool(self.level % 2)


def runs_of(characters: list[tuple[str, int]], used: Face) -> list[Run]:
    """The runs of a line in the order in which it is read. characters : (character, its index in
    the line); one index may stand for several characters."""
    text = "".join(char for char, _ in characters)
    runs: list[Run] = []
    for (char, index), level in zip(characters, levels(text), strict=True):
        if level is None or unicodedata.category(char) in UNSEEN:
            continue
        last = runs[-1] if runs else None
        own = script(char)
        chosen, gap = _face_for(char, used, last)
        if last is None or (last.level, last.face, last.gap) != (level, chosen, gap):
            runs.append(Run(chosen, level, own, gap=gap))
        elif own not in COMMON and last.script in COMMON:
            last.script = own
        elif own not in COMMON and own != last.script:
            runs.append(Run(chosen, level, own, gap=gap))
        runs[-1].characters.append((SPACE if gap else ord(char), index))
    return runs


def _face_for(char: str, used: Face, last: Run | None) -> tuple[Face, bool]:
    """(the face that has a character, whether none has). Marks and joiners stay with the letter
    they are put on, where its face can set them."""
    code = ord(char)
    if invisible(char):
        return (last.face, last.gap) if last else (used, False)
    follows = last is not None and unicodedata.category(char).startswith("M")
    for candidate in ([last.face] if last and follows and not last.gap else []) + [used]:
        if code in candidate.characters:
            return candidate, False
    for name in STAND_INS:
        stand_in = face(name)
        if code in stand_in.characters:
            return stand_in, False
    return (used, False) if char.isspace() else (used, True)


def invisible(char: str) -> bool:
    """Whether a character only directs how others are shown: joiners, selectors, marks of
    direction.
    """
    code = ord(char)
    return (
        code in JOINERS
        or 0xFE00 <= code <= 0xFE0F
        or 0xE0100 <= code <= 0xE01EF
        or unicodedata.category(char) == "Cf"
    )


def told_of(text: str, used: Face) -> list[str]:
    """What of a text is not set in the chosen face, in words."""
    stood_in: dict[str, dict[str, None]] = {}
    lacking: dict[str, None] = {}
    for char in text:
        if char.isspace() or invisible(char) or unicodedata.category(char) in UNSEEN:
            continue
        try:
            chosen, gap = _face_for(char, used, None)
        except KilnError:
            continue
        if gap:
            lacking[char] = None
        elif chosen is not used:
            stood_in.setdefault(chosen.title, {})[char] = None
    told = [
        f"This face has no {_listed(chars)}: set in {name}." for name, chars in stood_in.items()
    ]
    if lacking:
        told.append(f"No face here has {_listed(lacking)}: room is left there.")
    return told


def _listed(chars: dict[str, None]) -> str:
    shown = " ".join(list(chars)[:12])
    return f"{shown} and {len(chars) - 12} more" if len(chars) > 12 else shown
