"""The mean around each place of a picture, over a good part of it: how it is lit.

Worked out on a small copy. Towards the edges a plane is fitted to what lies around (local linear
regression with Gaussian weights; Fan and Gijbels, Local Polynomial Modelling, 1996), so that light
that falls off evenly is read right up to them.
"""

from collections.abc import Callable

import numpy as np

from kilncore.pixels.stored import full_of
from kilncore.system.opencv import cv2

SMALL = 256  # px of the longer side of the copy
Rows = Callable[[slice], np.ndarray]


def small_copy(plane: np.ndarray, side: int = SMALL) -> np.ndarray:
    """(h, w) float32, 0..1: the plane by area average, its longer side at most `side` px."""
    height, width = plane.shape
    scale = min(1.0, side / max(height, width))
    size = max(1, round(width * scale)), max(1, round(height * scale))
    small = cv2.resize(plane, size, interpolation=cv2.INTER_AREA)
    return small.astype(np.float32) / np.float32(full_of(plane))


def wide_mean(small: np.ndarray, share: float, wraps: bool = False) -> np.ndarray:
    """(h, w) float32: of a small copy. share : the Gaussian's sigma, of the longer side."""
    sigma = max(share * max(small.shape), 0.5)
    if wraps:
        return _wrapped(small, sigma)
    height, width = small.shape
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    x, y = (x - width / 2) / sigma, (y - height / 2) / sigma

    def mean(values: np.ndarray):
        return cv2.GaussianBlur(
            values.astype(np.float64), (0, 0), sigma, borderType=cv2.BORDER_CONSTANT
        )

    weight = np.maximum(mean(np.ones_like(small)), 1e-9)
    about = {name: mean(values) / weight for name, values in _moments(small, x, y).items()}
    dx, dy = x - about["x"], y - about["y"]  # from where the weights have their middle
    xx = about["xx"] - about["x"] ** 2 + 1e-6
    yy = about["yy"] - about["y"] ** 2 + 1e-6
    xv = about["xv"] - about["x"] * about["v"]
    yv = about["yv"] - about["y"] * about["v"]
    return (about["v"] + dx * xv / xx + dy * yv / yy).astype(np.float32)


def _moments(small: np.ndarray, x: np.ndarray, y: np.ndarray):
    return {
        "v": small,
        "x": x,
        "y": y,
        "xx": x * x,
        "yy": y * y,
        "xv": x * small,
        "yv": y * small,
    }


def _wrapped(small: np.ndarray, sigma: float) -> np.ndarray:
    """By the Fourier transform, which repeats."""
    height, width = small.shape
    across = np.exp(-2 * (np.pi * sigma * np.fft.rfftfreq(width)) ** 2)
    down = np.exp(-2 * (np.pi * sigma * np.fft.fftfreq(height)) ** 2)
    blurred = np.fft.irfft2(np.fft.rfft2(small) * down[:, None] * across, s=small.shape)
    return blurred.astype(np.float32)


def enlarged(small: np.ndarray, width: int, height: int) -> Rows:
    """A function from rows to (rows, W) float32: the small copy read at those rows of the whole."""
    across = (np.arange(width, dtype=np.float32) + 0.5) * (small.shape[1] / width) - 0.5
    small = np.ascontiguousarray(small, np.float32)

    def rows_of(rows: slice) -> np.ndarray:
        down = np.arange(rows.start, rows.stop, dtype=np.float32) + 0.5
        down = down * (small.shape[0] / height) - 0.5
        columns, lines = np.meshgrid(across, down)
        return cv2.remap(small, columns, lines, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)

    return rows_of
