"""Reads a font that comes in, within the limits of a child process; they hold for the sanitiser
that it starts too.

The OpenType sanitiser writes it anew; only what that wrote is opened, and only that is given back.
"""

from pathlib import Path
from typing import Any

import ots
import uharfbuzz as hb
from fontTools.ttLib import TTFont

from kilncore.errors import KilnError, UnusableFile
from kilncore.system.sandbox import answer
from kilncore.typesetting import fonts
from kilncore.typesetting.features import AXES
from kilncore.typesetting.outline import MOST_POINTS, edges_of
from kilncore.typesetting.shaping import Setting, shaped

SIGNS = (b"\0\1\0\0", b"OTTO", b"true", b"wOF2", b"wOFF")
MOST_BYTES = 20 * 2**20
TRIED_GLYPHS, TRIED_LETTERS = 3000, 120
NOT_A_FONT = "This is not a font that can be used. Bring in an OTF, TTF or WOFF2 file."
COLLECTION = "This file holds several fonts. Bring in one of them as a file of its own."
DAMAGED = "This font is damaged: the check of its tables fails. Get a fresh copy of it."
LARGE = f"This font is larger than {MOST_BYTES >> 20} MB once it is unpacked."
EMPTY = "This font draws no letters: it cannot be used for words."
INTRICATE = "Some letters of this font are too intricate to be drawn."


def examine(request: dict, data: bytes) -> tuple[dict, bytes]:
    """(what there is to tell of it, the font as the sanitiser wrote it)."""
    if data[:4] == b"ttcf":
        raise UnusableFile(COLLECTION)
    if data[:4] not in SIGNS:
        raise UnusableFile(NOT_A_FONT)
    folder = Path(request["folder"])
    clean = _sanitised(folder, data)
    try:
        return _told(folder / "clean", clean), clean
    except UnusableFile:
        raise
    except KilnError as error:
        raise UnusableFile(INTRICATE) from error
    except Exception as error:  # whatever a parser says of a hostile table
        raise UnusableFile(DAMAGED) from error


def _sanitised(folder: Path, data: bytes) -> bytes:
    (folder / "given").write_bytes(data)
    clean = folder / "clean"
    done = ots.sanitize(str(folder / "given"), str(clean), capture_output=True)
    if done.returncode or not clean.exists() or not clean.stat().st_size:
        raise UnusableFile(DAMAGED)
    if clean.stat().st_size > MOST_BYTES:
        raise UnusableFile(LARGE)
    return clean.read_bytes()


class _Only:
    """What holds just this font."""

    def __init__(self, data: bytes):
        self._data = data

    def data(self, name: str) -> bytes:
        """Of it."""
        return self._data


def _told(path: Path, clean: bytes) -> dict:
    held = _Only(clean)
    fonts.look_in(held)
    face = fonts.face("own")
    _try_out(face)
    with TTFont(path, lazy=True) as tables:
        names = tables["name"]
        return {
            "family": _name(names, 16, 1) or "Unnamed font",
            "style": _name(names, 17, 2),
            "licence": _name(names, 13, 14),
            "copyright": _name(names, 0),
            "embedding": int(tables["OS/2"].fsType) if "OS/2" in tables else 0,
            "characters": len(face.characters),
            "features": list(face.features),
            "axes": [_axis(names, info) for info in face.axis_infos],
        }


def _try_out(face: fonts.Face) -> None:
    """It must draw something; and nothing of it must be too intricate."""
    glyphs = face.font.face.glyph_count
    letters = [chr(c) for c in sorted(face.characters) if chr(c).isalnum()][:TRIED_LETTERS]
    if not glyphs or not face.characters or not 16 <= face.units <= 16384:
        raise UnusableFile(EMPTY)
    signs = letters or [chr(c) for c in sorted(face.characters)[:TRIED_LETTERS]]
    drawn = [
        edges_of(shaped("".join(signs[at : at + 20]), Setting("own")).glyphs)
        for at in range(0, len(signs), 20)
    ]
    if not any(map(len, drawn)):
        raise UnusableFile(EMPTY)
    for glyph in range(0, glyphs, max(1, glyphs // TRIED_GLYPHS)):
        counted = _Counting()
        face.font.draw_glyph_with_pen(glyph, counted)
        if counted.points > MOST_POINTS:
            raise UnusableFile(INTRICATE)


class _Counting:
    """A pen that only counts."""

    def __init__(self):
        self.points = 0

    def _count(self, *points: Any):
        self.points += len(points)

    moveTo = lineTo = qCurveTo = curveTo = closePath = endPath = _count  # noqa: N815


def _name(names: Any, *ids: int) -> str:
    """The first of these names that the font has, without what cannot be shown."""
    for number in ids:
        if name := names.getDebugName(number):
            return "".join(c for c in name if c.isprintable())[:200].strip()
    return ""


def _axis(names: Any, info: hb.OTVarAxisInfo) -> dict:
    title = AXES.get(info.tag) or _name(names, info.name_id)[:40] or info.tag
    ends = {"least": info.min_value, "usual": info.default_value, "most": info.max_value}
    return {"tag": info.tag, "title": title, **ends}


if __name__ == "__main__":
    answer(examine)
