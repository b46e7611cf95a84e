"""How often each tone occurs, finely: what aims are solved from."""

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.pixels.luma import luminance_rows

TONES = 65536
BAND_PIXELS = 2_000_000


def tone_counts(planes: np.ndarray) -> np.ndarray:
    """(65536,) int64: of the luminance of (C, H, W) planes of any type."""
    counts, tall = np.zeros(TONES, np.int64), max(1, BAND_PIXELS // planes.shape[2])
    for top in range(0, planes.shape[1], tall):
        _count(_sixteen(luminance_rows(planes[:, top : top + tall])), counts)
    return counts


def _sixteen(tones: np.ndarray) -> np.ndarray:
    if tones.dtype.kind == "f":
        tones = np.rint(np.clip(tones, 0, 1) * np.float32(TONES - 1))
    elif tones.dtype == np.uint8:
        return tones.astype(np.uint16) * np.uint16(257)
    return np.ascontiguousarray(tones, np.uint16)


@kernel
def _count(tones: np.ndarray, counts: np.ndarray):
    height, width = tones.shape
    for y in range(height):
        for x in range(width):
            counts[tones[y, x]] += 1


def spread(counts: np.ndarray) -> float:
    """From the tone that 1 % are darker than to that which 99 % are, 0..1."""
    reached = np.cumsum(counts) / max(counts.sum(), 1)
    return float(np.searchsorted(reached, 0.99) - np.searchsorted(reached, 0.01)) / (TONES - 1)
