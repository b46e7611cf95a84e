"""Smaller copies of a texture, and how soft reading them makes it."""

import math

import numpy as np

from kilncore.blur import blur_within, reach
from kilncore.compiled.kernels import kernel
from kilncore.pixels.reduce import resized

SMALLEST = 8
MOST_PLACES = 8
BETWEEN = -2 * math.log(48 / math.pi**4) / math.pi**2
"""px^2: a Gaussian so soft leaves as much of the shortest wave as cubic convolution (Keys 1981),
wherever it is read: its kernel's transform there is 48 / pi^4."""
LINEARLY = 0.27
"""px^2, of reading between two neighbours: 1/6 by its variance, and more by what is left of the
shortest waves, which a threshold tells apart; measured on nearly black and white textures."""


def halved(planes: np.ndarray, width: int, height: int) -> np.ndarray:
    """Half the size, 16 bits. Means of 2 x 2 px are added up in whole numbers: the same."""
    full = 257 if planes.dtype == np.uint8 else 1
    if planes.shape[1:] != (2 * height, 2 * width):
        return np.rint(resized(planes, width, height) * full).astype(np.uint16)
    return _halved(np.ascontiguousarray(planes), full / 4)


@kernel
def _halved(planes: np.ndarray, quarter: float):
    channels, tall, wide = planes.shape
    out = np.empty((channels, tall // 2, wide // 2), np.uint16)
    sums = np.empty(wide, np.uint32)
    for c in range(channels):
        for y in range(tall // 2):
            above, below = planes[c, 2 * y], planes[c, 2 * y + 1]
            for x in range(wide):
                sums[x] = np.uint32(above[x]) + np.uint32(below[x])
            for x in range(wide // 2):
                out[c, y, x] = np.uint16(
                    np.rint(np.float64(sums[2 * x] + sums[2 * x + 1]) * quarter)
                )
    return out


def unit_of(planes: np.ndarray) -> float:
    """What a stored value of full white is multiplied by to be 1."""
    return 1 / 255 if planes.dtype == np.uint8 else 1 / 65535


def places_in(ratio: float) -> int:
    """Into how many places, each way, a pixel that covers so many px is divided. Of a texture that
    is too small for a copy to be made smaller, a pixel may cover thousands of px, all of it many
    times over: a few places spread over it tell its mean.
    """
    return min(max(2, round(ratio)), MOST_PLACES)


def read_variance(number: int, step: float, turned: bool) -> float:
    """How soft reading a copy that was halved `number` times makes it: the variance, in px each way
    of the texture's own, of where a pixel comes from. step : px of that copy a pixel.

    A copy halved n times is the mean of 2^n px, (4^n - 1) / 12. Upright, the mean over an area
    of so many whole px adds (ratio^2 + 1) / 12; turned, the mean of places in a row their own
    spread, and LINEARLY for reading each between neighbours. Turned and not made smaller, it is
    read by cubic convolution, wherever between its px: BETWEEN.
    """
    behind = (4**number - 1) / 12
    if step <= 1 + 1e-9:
        return behind + (BETWEEN * 4**number if turned or step < 1 - 1e-9 else 0)
    own = step * step * (1 - places_in(step) ** -2) / 12 + LINEARLY
    return behind + 4**number * (own if turned else (step * step + 1) / 12)


def most_halved(planes: np.ndarray) -> int:
    """How often it may be halved."""
    return max(0, int(math.log2(max(min(planes.shape[1:]) / SMALLEST, 1))))


def softened(plane: np.ndarray, sigma: float) -> np.ndarray:
    """(H, W) tones, 0..1, blurred; the texture repeats."""
    tones = plane * np.float32(unit_of(plane))
    return (
        blur_within(np.pad(tones, reach(sigma), mode="wrap")[None], sigma, sigma)[0]
        if sigma
        else tones
    )
