"""How large the specks of a texture are, from how far its tones go along with themselves.

The half-width of the autocorrelation is 0.8 of the radius of discs, and 1.67 times the sigma of
Gaussian spots: 2.5 times it is a disc's diameter.
"""

import numpy as np

from kilncore.measure.grey import checked_grey, shrunk, without_trend
from kilncore.system.opencv import cv2

OF_HALF_WIDTH = 2.5
CROP_PX, PROXY_PX = 1024, 1024
COARSE = 1 / 40  # of the crop's side: coarser ones are read on all of it, made smaller
FLAT = 1e-4
# Half way to the half-width soft spots still go along with themselves by 0.84, discs by 0.745; the
# area of a pixel cuts off the point that discs have at 0, and all of theirs seems 0.3 px wider.
ROUND, POINTED, CUT_PX = 0.84, 0.745, 0.3


def coarseness(grey: np.ndarray) -> float:
    """The diameter of a typical speck. What falls off over the whole of it, as light does, is taken
    out first.

    Parameters
    ----------
    grey : (H, W) float array
        0..1.

    Returns
    -------
    float
        Px; 0 where there is no contrast.

    References
    ----------
    The module says the method.
    """
    grey = checked_grey(grey)
    height, width = grey.shape
    top, left = max((height - CROP_PX) // 2, 0), max((width - CROP_PX) // 2, 0)
    crop = grey[top : top + CROP_PX, left : left + CROP_PX]
    half = _half_width(crop)
    if half < COARSE * min(crop.shape) or crop.shape == grey.shape:
        return OF_HALF_WIDTH * half
    small, scale = shrunk(grey, PROXY_PX)
    return OF_HALF_WIDTH * _half_width(small) / scale


def _half_width(grey: np.ndarray) -> float:
    """Of the autocorrelation, all directions together."""
    values = without_trend(grey)
    if values.std() < FLAT:
        return 0.0
    height, width = values.shape
    tall, wide = cv2.getOptimalDFTSize(2 * height), cv2.getOptimalDFTSize(2 * width)
    spectrum = np.fft.rfft2(values, (tall, wide))
    correlation = np.fft.irfft2(np.abs(spectrum) ** 2, (tall, wide))
    reach = min(height, width) // 2
    places = np.arange(-reach, reach + 1)
    near = correlation[np.ix_(places % tall, places % wide)]
    overlap = np.outer(height - np.abs(places), width - np.abs(places))
    near = near / overlap / (correlation[0, 0] / (height * width))
    return _falls_to_half(near, places)


def _falls_to_half(near: np.ndarray, places: np.ndarray) -> float:
    away = np.hypot(places[:, None], places)
    ring = np.rint(away).astype(int)
    inside = ring <= places[-1]
    counts = np.bincount(ring[inside])
    means = np.bincount(ring[inside], near[inside]) / counts
    at = np.bincount(ring[inside], away[inside]) / counts
    below = np.flatnonzero(means < 0.5)
    if not len(below):
        return float(at[-1])
    n = below[0]
    share = (means[n - 1] - 0.5) / (means[n - 1] - means[n])
    half = float(at[n - 1] + share * (at[n] - at[n - 1]))
    cusp = (ROUND - np.interp(half / 2, at, means)) / (ROUND - POINTED)
    return float(half - CUT_PX * min(max(cusp, 0.0), 1.0))
