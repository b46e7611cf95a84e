"""Pictures of one tone, as the readings take them."""

import numpy as np

from kilncore.errors import KilnError
from kilncore.system.opencv import cv2

MIN_SIDE = 8


def checked_grey(grey: np.ndarray) -> np.ndarray:
    """(H, W) float32; KilnError for anything else."""
    grey = np.asarray(grey, np.float32)
    if grey.ndim != 2 or min(grey.shape) < MIN_SIDE:
        raise KilnError(
            f"A reading needs one plane of {MIN_SIDE} px each way at least.", str(grey.shape)
        )
    return np.ascontiguousarray(np.nan_to_num(grey))


def shrunk(grey: np.ndarray, side: int) -> tuple[np.ndarray, float]:
    """The same, its longer side at most `side` px, by area average; and its scale."""
    height, width = grey.shape
    scale = min(1.0, side / max(height, width))
    if scale == 1:
        return grey, 1.0
    size = max(MIN_SIDE, round(width * scale)), max(MIN_SIDE, round(height * scale))
    return cv2.resize(grey, size, interpolation=cv2.INTER_AREA), scale


def without_trend(grey: np.ndarray) -> np.ndarray:
    """Without the plane and the bowl that fit it best."""
    height, width = grey.shape
    y, x = np.linspace(-1, 1, height)[:, None], np.linspace(-1, 1, width)[None]
    parts = [np.ones((height, width)), x + 0 * y, y + 0 * x, x * x - 1 / 3 + 0 * y]
    parts += [y * y - 1 / 3 + 0 * x, x * y]
    out = grey.astype(np.float64)
    for part in parts:  # at right angles to each other, nearly
        out = out - part * ((out * part).sum() / (part * part).sum())
    return out
