"""True Gaussian blur: a separable sum of weighted neighbours, cut off at four sigma.

Source: W3C Filter Effects Level 1, feGaussianBlur, whose formula (not its three-box shortcut) this
is. From sigma 12 on it is worked out on a grid made smaller by a power of two, which stays within
0.003 of the sum: the grid starts at document (0, 0) and its factor depends on sigma alone, so a
pixel is the same in every tile.
"""

import math
from functools import lru_cache

import numpy as np

from kilncore.compiled.convolution import convolved
from kilncore.compiled.kernels import kernel
from kilncore.errors import KilnError
from kilncore.pixels.planes import checked, from_planes, to_planes

CUT_OFF = 4.0
REDUCED_FROM, LEAST_REDUCED = 12.0, 6.0
MORE_CELLS = (
    4  # around the blurred ones, for reading between them and for a grid that starts anywhere
)


def gaussian(image: np.ndarray, sigma_x: float, sigma_y: float | None = None) -> np.ndarray:
    """Blur a picture, on premultiplied values. Outside it lies transparent black.

    Parameters
    ----------
    image : (H, W, 4) float array
        Straight, 0..1.
    sigma_x, sigma_y : float
        Standard deviation in px, 0 or more; sigma_y is sigma_x by default.

    Returns
    -------
    (H, W, 4) float32 array
        Straight.

    Raises
    ------
    KilnError
        For what is no picture, or a sigma below 0.

    References
    ----------
    W3C, Filter Effects Module Level 1, feGaussianBlur.
    """
    sigma_y = sigma_x if sigma_y is None else sigma_y
    if not (0 <= sigma_x < 1e4 and 0 <= sigma_y < 1e4):
        raise KilnError("A blur's sigma must be 0 px or more.", f"{sigma_x}, {sigma_y}")
    rx, ry = reach(sigma_x), reach(sigma_y)
    padded = np.pad(to_planes(checked(image)), ((0, 0), (ry, ry), (rx, rx)))
    return from_planes(blur_within(padded, sigma_x, sigma_y, -rx, -ry))


def reach(sigma: float, cut_off: float = CUT_OFF) -> int:
    """How many px beyond itself a pixel of the result reads."""
    if sigma <= 0:
        return 0
    factor = _factor(sigma)
    if factor == 1:
        return _taps(sigma, cut_off)
    return (_taps(_reduced_sigma(sigma, factor), cut_off) + MORE_CELLS) * factor


def _taps(sigma: float, cut_off: float) -> int:
    """Neighbours to one side: those that reach within so many sigma."""
    return max(math.ceil(cut_off * sigma - 0.5), 1)


def sigma_of(variance: float) -> float:
    """The sigma of a blur that spreads by so much: a narrow bell read at whole px alone spreads
    less than it should.
    """
    low, high, at = 0.0, math.sqrt(max(variance, 0)) + 1, np.arange(-40, 41)
    if variance <= 0 or variance > 4:
        return math.sqrt(max(variance, 0))
    while high - low > 1e-4:
        sigma = (low + high) / 2
        bell = np.exp(-0.5 * (at / sigma) ** 2)
        low, high = (
            (low, sigma) if (at * at * bell).sum() / bell.sum() > variance else (sigma, high)
        )
    return high


def blur_within(
    planes: np.ndarray,
    sigma_x: float,
    sigma_y: float,
    left: int = 0,
    top: int = 0,
    cut_off: float = CUT_OFF,
) -> np.ndarray:
    """Blur (C, H, W) float32 planes that carry a border of `reach` px; the border is used up.

    left, top : where their first pixel lies on the output grid. cut_off : how many sigma are
    summed, to either side.
    """
    planes = np.ascontiguousarray(planes, np.float32)
    if (
        planes.ndim != 3
        or planes.shape[2] <= 2 * reach(sigma_x, cut_off)
        or planes.shape[1] <= 2 * reach(sigma_y, cut_off)
    ):
        raise ValueError(
            f"planes of {planes.shape} have no border for a blur of {sigma_x}, {sigma_y}"
        )
    across, down = (
        _Axis(sigma_x, left, planes.shape[2], cut_off),
        _Axis(sigma_y, top, planes.shape[1], cut_off),
    )
    planes = _cells_down(planes, down.skipped, down.factor) if down.factor > 1 else planes
    planes = _cells_across(planes, across.skipped, across.factor) if across.factor > 1 else planes
    planes = (
        convolved(planes, across.weights, down.weights)
        if across.weights.size + down.weights.size > 2
        else planes
    )
    planes = _between_across(planes, *across.between) if across.factor > 1 else planes
    return _between_down(planes, *down.between) if down.factor > 1 else planes


class _Axis:
    """What one axis needs: how far it is reduced, from where, with which weights, and how to read
    between cells.

    first, size : of the pixels that are there, with their border.
    """

    def __init__(self, sigma: float, first: int, size: int, cut_off: float):
        self.factor = _factor(sigma)
        self.weights = _weights(
            sigma if self.factor == 1 else _reduced_sigma(sigma, self.factor), cut_off
        )
        first_cell = -(-first // self.factor)  # the first that lies inside as a whole
        self.skipped = first_cell * self.factor - first
        if self.factor > 1:
            border = reach(sigma, cut_off)
            at = (np.arange(first + border, first + size - border) + 0.5) / self.factor - 0.5
            index = np.floor(at).astype(np.int64)
            self.between = index - 1 - (first_cell + self.weights.size - 1), _cubic(at - index)


def _factor(sigma: float) -> int:
    return 1 if sigma < REDUCED_FROM else 2 ** int(math.log2(sigma / LEAST_REDUCED))


def _reduced_sigma(sigma: float, factor: int) -> float:
    """Cells are means of `factor` px, which blur by themselves: variances add."""
    return math.sqrt((sigma * sigma - (factor * factor - 1) / 12) / (factor * factor))


@lru_cache(256)
def _weights(sigma: float, cut_off: float) -> np.ndarray:
    """The weights of the middle and of one side."""
    r = _taps(sigma, cut_off) if sigma > 0 else 0
    weights = np.exp(-0.5 * (np.arange(r + 1) / max(sigma, 1e-9)) ** 2)
    return (weights / (2 * weights.sum() - weights[0])).astype(np.float32)


def _cubic(t: np.ndarray) -> np.ndarray:
    """Keys' weights (1981) for reading between cells: (4, N)."""
    t2, t3 = t * t, t * t * t
    return np.stack(
        [t2 - (t + t3) / 2, 1.5 * t3 - 2.5 * t2 + 1, 2 * t2 - 1.5 * t3 + t / 2, (t3 - t2) / 2]
    ).astype(np.float32)


@kernel
def _cells_down(planes: np.ndarray, skipped: int, factor: int):
    """Means of `factor` rows, the first `skipped` rows left out."""
    channels, height, width = planes.shape
    out = np.zeros((channels, (height - skipped) // factor, width), np.float32)
    share = np.float32(1 / factor)
    for c in range(channels):
        for j in range(out.shape[1]):
            for k in range(factor):
                row = planes[c, skipped + j * factor + k]
                for x in range(width):
                    out[c, j, x] += share * row[x]
    return out


@kernel
def _cells_across(planes: np.ndarray, skipped: int, factor: int):
    channels, height, width = planes.shape
    out = np.zeros((channels, height, (width - skipped) // factor), np.float32)
    share = np.float32(1 / factor)
    for c in range(channels):
        for y in range(height):
            for i in range(out.shape[2]):
                for k in range(factor):
                    out[c, y, i] += share * planes[c, y, skipped + i * factor + k]
    return out


@kernel
def _between_across(cells: np.ndarray, index: np.ndarray, weights: np.ndarray):
    channels, height, _ = cells.shape
    out = np.empty((channels, height, index.size), np.float32)
    for c in range(channels):
        for y in range(height):
            for x in range(index.size):
                i = index[x]
                out[c, y, x] = (
                    weights[0, x] * cells[c, y, i]
                    + weights[1, x] * cells[c, y, i + 1]
                    + weights[2, x] * cells[c, y, i + 2]
                    + weights[3, x] * cells[c, y, i + 3]
                )
    return out


@kernel
def _between_down(cells: np.ndarray, index: np.ndarray, weights: np.ndarray):
    channels, _, width = cells.shape
    out = np.empty((channels, index.size, width), np.float32)
    for c in range(channels):
        for y in range(index.size):
            i = index[y]
            p, q, r, s = cells[c, i], cells[c, i + 1], cells[c, i + 2], cells[c, i + 3]
            for x in range(width):
                out[c, y, x] = (
                    weights[0, y] * p[x]
                    + weights[1, y] * q[x]
                    + weights[2, y] * r[x]
                    + weights[3, y] * s[x]
                )
    return out
