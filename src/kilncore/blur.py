"""True Gaussian blur: a separable sum of weighted neighbours, cut off at four sigma.

Source: W3C Filter Effects Level 1, feGaussianBlur, whose formula (not its three-box shortcut) this is.
"""

import math

import numpy as np

from kilncore.errors import KilnError
from kilncore.kernels import kernel
from kilncore.planes import checked, from_planes, to_planes

CUT_OFF = 4.0


def gaussian(image: np.ndarray, sigma_x: float, sigma_y: float | None = None) -> np.ndarray:
    """Blur a straight (H, W, 4) picture, on premultiplied values; outside it lies transparent black.

    sigma_x, sigma_y : standard deviation in px, 0 or more; sigma_y defaults to sigma_x.
    """
    sigma_y = sigma_x if sigma_y is None else sigma_y
    if not (0 <= sigma_x < 1e4 and 0 <= sigma_y < 1e4):
        raise KilnError("A blur's sigma must be 0 px or more.", f"{sigma_x}, {sigma_y}")
    rx, ry = reach(sigma_x), reach(sigma_y)
    padded = np.pad(to_planes(checked(image)), ((0, 0), (ry, ry), (rx, rx)))
    return from_planes(blur_within(padded, sigma_x, sigma_y))


def reach(sigma: float) -> int:
    """How many px beyond itself a pixel of the result reads."""
    return math.ceil(CUT_OFF * sigma) if sigma > 0 else 0


def blur_within(planes: np.ndarray, sigma_x: float, sigma_y: float) -> np.ndarray:
    """Blur (C, H, W) float32 planes that carry a border of `reach` px; the border is used up."""
    planes = _blur_rows(planes, _weights(sigma_x))
    return _blur_columns(planes, _weights(sigma_y))


def _weights(sigma: float) -> np.ndarray:
    r = reach(sigma)
    if not r:
        return np.ones(1, np.float32)
    weights = np.exp(-0.5 * (np.arange(-r, r + 1) / sigma) ** 2)
    return (weights / weights.sum()).astype(np.float32)


@kernel
def _blur_rows(planes, weights):
    channels, height, width = planes.shape
    taps = weights.size
    out = np.zeros((channels, height, width - taps + 1), np.float32)
    for c in range(channels):
        for y in range(height):
            for k in range(taps):
                for x in range(width - taps + 1):
                    out[c, y, x] += weights[k] * planes[c, y, x + k]
    return out


@kernel
def _blur_columns(planes, weights):
    channels, height, width = planes.shape
    taps = weights.size
    out = np.zeros((channels, height - taps + 1, width), np.float32)
    for c in range(channels):
        for y in range(height - taps + 1):
            for k in range(taps):
                for x in range(width):
                    out[c, y, x] += weights[k] * planes[c, y + k, x]
    return out
