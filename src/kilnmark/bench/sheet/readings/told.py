"""What a reading tells, in words."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Told:
    """warns : whether it is bad news. place : where on the piece, as JSON, or ''. layer : of what
    the stage shows over the piece to show where, or ''. more : said when one rests on it.
    """

    words: str
    value: str
    warns: bool = False
    place: str = ""
    more: str = ""
    layer: str = ""


@dataclass(frozen=True)
class Aim:
    """One click by which a reading becomes what is wanted. edits : as JSON."""

    words: str
    edits: str
    more: str = ""


@dataclass(frozen=True)
class Readings:
    """notes : what is wrong, in a sentence."""

    told: tuple[Told, ...] = ()
    aims: tuple[Aim, ...] = ()
    notes: tuple[str, ...] = ()
