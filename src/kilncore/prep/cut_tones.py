"""Tones that an aim can cut: what a wear's texture was before it was made two-tone; of a file that
is two-tone itself, the signed distance from its specks' edges.

A share that is solved for is cut out of tones. Where there are only two, any point between them
thins all that is left instead of taking more: so the cut is made where there are tones still, and
else the edges of the specks are moved, by up to 3 px.

Method: the edges' distance as in `pixels.distance`; three pixels, since specks that grow by more
become blobs (measured on photographs of rock, docs/decisions/0034).
"""

from typing import Any, Literal

import numpy as np

from kilncore.pixels.distance import signed_distance
from kilncore.pixels.stored import deep, full_of, put
from kilncore.prep.base import Copy, Operation, operation
from kilncore.prep.grey import one_tone
from kilncore.prep.texture_ref import TextureRef
from kilncore.solve.points import otsu

FARTHEST_PX = 3.0
MARGIN_PX = 8
BLOCK_ROWS = 1024
LEAST_APART = 0.25  # of all tones, between the dark ones and the light ones
CLOSE = 0.12  # of that: so close to one of the two lie the tones of a two-tone picture
MOST_BETWEEN = 0.15  # of all px: those of antialiased edges
FORM = {
    "crop",
    "straighten",
    "turn",
    "flip",
    "mirror",
    "invert",
    "seamless",
    "endless",
    "clean",
    "grow",
}


@operation(
    "cut-tones", title="Tones to cut", sentence="Distances from the specks' edges.", group=""
)
class CutTones(Operation):
    """It is never part of a document: a wear with an aim reads its texture through it."""

    kind: Literal["cut-tones"] = "cut-tones"
    id: str = "cut"

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """(1, H, W): 0 from `FARTHEST_PX` within the darks on, 1 from so far outside them, 0.5 at
        their edge.
        """
        grey = one_tone(planes)
        most = max(FARTHEST_PX * copy.unit, 0.75)
        out = np.empty(grey.shape, deep(grey.dtype))
        tones = _spread(grey[0])
        for top in range(0, tones.shape[0], BLOCK_ROWS):
            stop = min(top + BLOCK_ROWS, tones.shape[0])
            distances = signed_distance(_window(tones, top, stop, copy.wraps), most)
            inner = distances[MARGIN_PX:-MARGIN_PX, MARGIN_PX:-MARGIN_PX]
            put(0.5 + inner / np.float32(2 * most), out[0, top:stop])
        return out


def _window(tones: np.ndarray, top: int, stop: int, wraps: bool) -> np.ndarray:
    """Some rows with a margin all around."""
    mode: Any = "wrap" if wraps else "symmetric"
    rows = np.arange(top - MARGIN_PX, stop + MARGIN_PX)
    height = tones.shape[0]
    if not wraps:
        rows = np.abs(rows)
        rows = np.where(rows < height, rows, 2 * height - 1 - rows)
    band = tones[np.clip(rows, 0, height - 1) if not wraps else rows % height]
    return np.pad(band, ((0, 0), (MARGIN_PX, MARGIN_PX)), mode=mode)


def _spread(plane: np.ndarray) -> np.ndarray:
    """(H, W) float32: its two tones brought to 0 and 1."""
    counts = np.bincount(
        (plane[::3, ::3] * (255.0 / full_of(plane))).astype(np.int64).ravel(), None, 256
    )
    dark, light = _two_means(counts)
    unit = np.float32(1 / full_of(plane))
    return np.clip((plane * unit - np.float32(dark)) / np.float32(max(light - dark, 1e-3)), 0, 1)


def _two_means(counts: np.ndarray) -> tuple[float, float]:
    """The mean of the darks and of the lights, parted where they part best (Otsu 1979)."""
    tones, at = np.linspace(0, 1, len(counts)), otsu(counts)
    below = tones <= at
    dark, light = (
        float((tones[side] * counts[side]).sum() / max(counts[side].sum(), 1e-9))
        for side in (below, ~below)
    )
    return dark, light


def two_tone(counts: np.ndarray) -> bool:
    """Whether a picture has two tones, and hardly anything between. counts : how often each of its
    tones occurs, these spread evenly over 0..1.
    """
    if not counts.sum():
        return False
    dark, light = _two_means(counts)
    apart, tones = light - dark, np.linspace(0, 1, len(counts))
    if apart < LEAST_APART:
        return False
    far = np.minimum(np.abs(tones - dark), np.abs(tones - light)) > CLOSE * apart
    return float(counts[far].sum() / counts.sum()) < MOST_BETWEEN


def parted_within(ref: TextureRef) -> float:
    """Within how many of its tones, 0..1, a texture was parted into two; 1 if it was not."""
    return next((one.parts_within for one in reversed(ref.chain) if one.on and one.two_tone), 1.0)


def cut(ref: TextureRef) -> TextureRef:
    """What an aim reads of a texture: its tones from before the last operation that made it
    two-tone. What comes after that one and changes its form is done all the same.
    """
    chain = ref.chain
    made = [n for n, one in enumerate(chain) if one.on and one.two_tone]
    if made:
        chain = (*chain[: made[-1]], *(one for one in chain[made[-1] + 1 :] if one.kind in FORM))
    return ref.model_copy(update={"chain": (*chain, CutTones())})
