"""A font that its owner brings in: made safe by the sanitiser, read in a limited child."""

from dataclasses import dataclass
from tempfile import TemporaryDirectory

from kilncore.system.sandbox import Limits, run

LIMITS = Limits(memory=700 * 2**20, cpu=20, wall=60, written=21 * 2**20)
TOO_MUCH = "This font could not be read: it takes too long, or too much memory."
NO_EMBEDDING, PREVIEW, EDITABLE, NO_SUBSET, BITMAPS = 0x2, 0x4, 0x8, 0x100, 0x200


@dataclass(frozen=True)
class Font:
    """data : as the sanitiser wrote it; nothing else is ever opened. axes : tag, title, least,
    usual, most. embedding : fsType of its OS/2 table.
    """

    data: bytes
    family: str
    style: str
    licence: str
    copyright: str
    embedding: int
    characters: int
    features: list[str]
    axes: list[dict]


def font_of(data: bytes) -> Font:
    """What there is in a font file, as the sanitiser wrote it, in a limited child.

    Parameters
    ----------
    data : bytes
        OpenType, TrueType or WOFF2.

    Returns
    -------
    Font
        Its names, axes and licence.

    Raises
    ------
    UnusableFile
        With the reason.
    """
    with TemporaryDirectory(prefix="font-") as folder:  # ours: a child that is stopped leaves it
        request = {"folder": folder}
        facts, clean = run("kilncore.typesetting.font_child", LIMITS, request, data, TOO_MUCH)
    return Font(clean, **facts)


def embedding_words(rights: int) -> str:
    """What a font's maker allows, in words. rights : fsType, as the OpenType specification has
    it: of several, the least restrictive of its first bits counts.
    """
    if rights & EDITABLE:
        told = "May be embedded in files that others edit."
    elif rights & PREVIEW:
        told = "May be embedded in files for viewing and print."
    elif rights & NO_EMBEDDING:
        told = "Must not be embedded. Fired files hold its letters as pixels, not the font."
    else:
        told = "May be embedded and installed."
    return told + (" Not in part." if rights & NO_SUBSET else "")
