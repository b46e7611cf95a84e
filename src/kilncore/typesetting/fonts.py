"""The fonts that ship with Kilnmark, each under the SIL Open Font License (its text lies beside
it).
"""

from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

import uharfbuzz as hb
from fontTools.ttLib import TTFont

from kilncore.errors import KilnError

FOLDER = Path(__file__).parent.parent / "fonts"

FONTS = {
    "alfa-slab-one": "Alfa Slab One",
    "rokkitt-extrabold": "Rokkitt Extra Bold",
    "anton": "Anton",
    "josefin-sans-bold": "Josefin Sans Bold",
    "abril-fatface": "Abril Fatface",
    "limelight": "Limelight",
    "lobster": "Lobster",
}


@dataclass(frozen=True)
class Face:
    """units, ascent, cap_height : in font units, upward positive."""

    font: hb.Font
    units: int
    ascent: float
    cap_height: float
    characters: frozenset[int]


@lru_cache(maxsize=32)
def face(name: str) -> Face:
    """The face of a shipped font, read once. name : one of FONTS; KilnError for any other."""
    if name not in FONTS:
        raise KilnError(f"A font must be one of: {', '.join(FONTS)}.", name)
    path = FOLDER / f"{name}.ttf"
    font = hb.Font(hb.Face(hb.Blob(path.read_bytes())))
    with TTFont(path) as tables:
        units = tables["head"].unitsPerEm
        cap = getattr(tables["OS/2"], "sCapHeight", 0) or 0.7 * units
        return Face(font, units, tables["hhea"].ascent, cap, frozenset(tables.getBestCmap()))
