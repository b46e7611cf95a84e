"""Every change to the fonts of an owner; and pictures of words set in them."""

import numpy as np

from kilncore.artwork.coverage import coverage
from kilncore.artwork.lettering import Lettering
from kilncore.errors import KilnError, UnusableFile
from kilncore.model.units import px
from kilncore.pixels.vips import as_image
from kilncore.typesetting.intake import font_of
from kilncore.typesetting.shipped import FONTS
from kilnmark.faces.models import Font
from kilnmark.storage import assets

MOST_FONTS = 500
MOST_LETTERS = 40
SAMPLE_WIDTH, SAMPLE_HEIGHT, ROOM = 440, 96, 0.86
INK = (32, 38, 42)


def bring_in(owner, data: bytes) -> Font:
    """Keep what the sanitiser wrote of a font file; UnusableFile, with the reason, keeps
    nothing.
    """
    if owner.fonts.count() >= MOST_FONTS:
        raise UnusableFile(f"{MOST_FONTS} fonts are here already. Throw some away first.")
    found = font_of(data)
    font, _ = Font.objects.update_or_create(
        owner=owner,
        hash=assets().keep(found.data),
        defaults={
            "family": found.family,
            "style": found.style,
            "binned": None,
            "facts": {
                "licence": found.licence,
                "copyright": found.copyright,
                "embedding": found.embedding,
                "characters": found.characters,
                "features": found.features,
                "axes": found.axes,
            },
        },
    )
    return font


def sample(ref: str, text: str) -> bytes:
    """PNG of words in a face, in ink on nothing, as large as fits."""
    words = " ".join(text.split())[:MOST_LETTERS] or FONTS.get(ref, "Words")
    art = Lettering(text=words, font=ref, size=px(100))
    try:
        edges = art.outline().edges
    except KilnError:
        edges = np.empty((0, 4))
    if not len(edges):
        return _png(np.zeros((SAMPLE_HEIGHT, SAMPLE_WIDTH), np.float32))
    (left, top), (right, bottom) = edges.reshape(-1, 2).min(0), edges.reshape(-1, 2).max(0)
    scale = ROOM * min(SAMPLE_WIDTH / (right - left), SAMPLE_HEIGHT / (bottom - top))
    x = SAMPLE_WIDTH / 2 - scale * (left + right) / 2
    y = SAMPLE_HEIGHT / 2 - scale * (top + bottom) / 2
    placed = edges * scale + np.array([x, y] * 2)
    return _png(coverage(placed, SAMPLE_WIDTH, SAMPLE_HEIGHT))


def _png(alpha: np.ndarray) -> bytes:
    pixels = np.empty((*alpha.shape, 4), np.uint8)
    pixels[..., :3], pixels[..., 3] = INK, np.rint(alpha * 255)
    return as_image(pixels).pngsave_buffer(compression=2)
