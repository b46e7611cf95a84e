"""How often each tone occurs."""

import numpy as np

from kilncore.pixels.luma import luminance_rows

BAND_PIXELS = 2_000_000


def histogram(planes: np.ndarray) -> list[int]:
    """Counts of the 256 tones of a texture read as a mask, a band at a time.

    planes : (C, H, W) uint8 or uint16, as a texture holds them.
    """
    counts, tall = np.zeros(256, np.int64), max(1, BAND_PIXELS // planes.shape[2])
    for top in range(0, planes.shape[1], tall):
        tones = luminance_rows(planes[:, top : top + tall])
        counts += np.bincount((tones >> (8 * (tones.itemsize - 1))).ravel(), minlength=256)
    return counts.tolist()


def dark_share(counts: list[int]) -> float:
    """The share of a texture that is darker than middle grey, 0..1: what it would take away as a
    mask.
    """
    return sum(counts[:128]) / max(sum(counts), 1)
