"""How soft the sharpest edges of a picture are.

A blur more of a known width changes sharp edges much, and soft ones little: from the ratio of the
gradients before and after along the strongest edges follows the blur that is there (Zhuo and Sim,
Defocus map estimation from a single image, Pattern Recognition 44, 2011). What the difference of
neighbours, and the area of a pixel, add is taken out again. Crowded specks hold no edge by itself,
and read as sharper than they are: there the spectrum tells (`spectral_softness`).
"""

import math

import numpy as np

from kilncore.measure.grey import checked_grey
from kilncore.measure.spectral_softness import spectral_softness
from kilncore.system.opencv import cv2

CROP_PX = 1024
STRONGEST = 0.2  # of the crests
LEAST_GRADIENT = 1e-4
AGAIN = 1.0  # sigma of the blur that is added, px
OF_PIXEL = 1 / 12  # variance of the area of a px, px^2
ALIKE, MOST_CROWDED = 1.12, 1.5  # the spectrum's sigma over that of the edges
SHARPEST, SOFTEST = 0.3, 40.0


def softness(grey: np.ndarray) -> float:
    """How much the sharpest edges of a picture are blurred.

    Parameters
    ----------
    grey : (H, W) float array
        0..1; of large ones the middle is read.

    Returns
    -------
    float
        Sigma, px, of a Gaussian; SHARPEST for sharper ones, which no blur can be told from, and
        SOFTEST where there are none.

    References
    ----------
    The module says the method.
    """
    grey = checked_grey(grey)
    height, width = grey.shape
    top, left = max((height - CROP_PX) // 2, 0), max((width - CROP_PX) // 2, 0)
    grey = grey[top : top + CROP_PX, left : left + CROP_PX]
    sigma, again = AGAIN, AGAIN
    for _ in range(2):  # a blur about as wide as the one that is looked for tells it best
        sigma = _sigma(grey, again)
        again = min(max(AGAIN, sigma / 2), 8.0)
        if again == AGAIN:
            break
    crowded = spectral_softness(grey)
    if crowded is not None and ALIKE * sigma < crowded and sigma < SOFTEST:
        sigma = min(crowded, MOST_CROWDED * sigma)
    return min(max(sigma, SHARPEST), SOFTEST)


def _sigma(grey: np.ndarray, again: float) -> float:
    blurred = cv2.GaussianBlur(grey, (0, 0), again, borderType=cv2.BORDER_REFLECT)
    edge = math.ceil(4 * again) + 1
    if min(grey.shape) > 4 * edge:
        grey, blurred = (one[edge:-edge, edge:-edge] for one in (grey, blurred))
    across, down = _slopes(grey)
    before, after = np.hypot(across, down), np.hypot(*_slopes(blurred))
    level = np.abs(across) >= np.abs(down)
    crests = _crests(before, level)
    if not crests.any():
        return SOFTEST
    strong = np.quantile(before[crests], 1 - STRONGEST)
    at = crests & (before >= max(strong, LEAST_GRADIENT))
    if not at.any():
        return SOFTEST
    ratio = float(np.median(_peaks(before, level, at) / _peaks(after, level, at)))
    if ratio <= 1:
        return SOFTEST
    added = float(_spread(across[at], down[at], before[at]).mean()) + OF_PIXEL
    return math.sqrt(max(again**2 / (ratio**2 - 1) - added, 0))


def _slopes(grey: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """How steep it is across and down."""
    return (grey[1:-1, 2:] - grey[1:-1, :-2]) / 2, (grey[2:, 1:-1] - grey[:-2, 1:-1]) / 2


def _spread(across: np.ndarray, down: np.ndarray, steep: np.ndarray) -> np.ndarray:
    """The variance, px^2, that the difference of two neighbours adds across an edge of that
    direction.
    """
    return (across**4 + down**4) / np.maximum(steep, 1e-9) ** 4 / 3


def _crests(steep: np.ndarray, level: np.ndarray) -> np.ndarray:
    """Where it is steeper than at both neighbours, along the axis on which it is steep. level :
    whether it is so more across than down.
    """
    crests = np.zeros(steep.shape, bool)
    middle = steep[1:-1, 1:-1]
    across = (middle >= steep[1:-1, :-2]) & (middle > steep[1:-1, 2:])
    down = (middle >= steep[:-2, 1:-1]) & (middle > steep[2:, 1:-1])
    crests[1:-1, 1:-1] = np.where(level[1:-1, 1:-1], across, down) & (middle > LEAST_GRADIENT)
    return crests


def _peaks(steep: np.ndarray, level: np.ndarray, at: np.ndarray) -> np.ndarray:
    """The height of the crests between the pixels: a bell through three of them."""
    rows, columns = np.nonzero(at)
    step = level[at].astype(int)
    middle, near, far = (
        np.log(np.maximum(steep[rows + n * (1 - step), columns + n * step], 1e-9))
        for n in (0, -1, 1)
    )
    bend = np.minimum(near - 2 * middle + far, -1e-6)
    return np.exp(middle - np.clip((far - near) ** 2 / (8 * bend), -0.7, 0))
