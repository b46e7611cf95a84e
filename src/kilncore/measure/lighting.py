"""How evenly a texture is lit, and from where."""

import math

import numpy as np

from kilncore.measure.grey import checked_grey, shrunk
from kilncore.system.opencv import cv2

SMALL_PX = 192
WIDE = 1 / 10  # sigma, of the longer side: what is wider is lighting
LEAST = 4 / 255
SIDES = (
    *("the right", "the lower right", "below", "the lower left"),
    *("the left", "the upper left", "above", "the upper right"),
)
FROM_ONE_SIDE = 0.6  # of its variation that a plane explains


def evenness(grey: np.ndarray) -> float:
    """The light in the dimmest part as a share of that in the brightest.

    Parts are read by a mean wider than a tenth of the longer side; the 2 % that are darkest and
    brightest do not count.

    Parameters
    ----------
    grey : (H, W) float array
        0..1.

    Returns
    -------
    float
        0..1; 1 is even.
    """
    low = _light(grey)
    dim, bright = np.percentile(low, (2, 98)) + LEAST
    return float(min(dim / bright, 1.0))


def lit_from(grey: np.ndarray) -> str:
    """'the left', 'above' and so on, or '' where the light does not fall off to one side."""
    low = _light(grey)
    height, width = low.shape
    y, x = np.linspace(-1, 1, height)[:, None], np.linspace(-1, 1, width)[None]
    away = low - low.mean()
    across, down = (float((away * part).sum() / (part**2 + 0 * low).sum()) for part in (x, y))
    plane = across * x + down * y
    if away.std() < 1e-4 or plane.std() ** 2 < FROM_ONE_SIDE * away.std() ** 2:
        return ""
    return SIDES[round(math.degrees(math.atan2(down, across)) / 45) % 8]


def _light(grey: np.ndarray) -> np.ndarray:
    small, _ = shrunk(checked_grey(grey), SMALL_PX)
    sigma = WIDE * max(small.shape)
    return cv2.GaussianBlur(small, (0, 0), sigma, borderType=cv2.BORDER_REFLECT)
