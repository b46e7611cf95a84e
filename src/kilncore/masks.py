"""A picture read as a mask.

Source: W3C CSS Masking Level 1 (luminance masks) with the BT.709 coefficients on sRGB-encoded values.
White reveals, black conceals (common practice).
"""

import numpy as np

from kilncore.colour import BT709
from kilncore.kernels import kernel
from kilncore.planes import checked


def luminance(image: np.ndarray) -> np.ndarray:
    """(H, W, 4) straight picture to an (H, W) float32 mask, 0..1: luma times alpha."""
    image = checked(image)
    return (image[..., :3] @ BT709) * image[..., 3]


def luma(planes: np.ndarray) -> np.ndarray:
    """The same of a premultiplied (4, H, W) picture: luma times alpha is the luma of premultiplied colour."""
    return _luma(np.ascontiguousarray(planes), *BT709)


@kernel
def _luma(planes, kr, kg, kb):
    out = np.empty(planes.shape[1:], np.float32)
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            out[y, x] = kr * planes[0, y, x] + kg * planes[1, y, x] + kb * planes[2, y, x]
    return out


def levels(values, black, gamma, white):
    """Tones at or below `black` become 0, at or above `white` 1; gamma bends what lies between.

    values : (H, W) float32, 0..1. black, white : 0..1; equal, they make a threshold. gamma : above 0, 1 is straight.
    Source: the levels adjustment, common practice: ((v - black) / (white - black)) ** (1 / gamma).
    """
    return _levels(values, np.float32(black), np.float32(1 / max(white - black, 1e-6)), np.float32(1 / gamma))


@kernel
def _levels(values, black, slope, power):
    out = np.empty_like(values)
    for y in range(values.shape[0]):
        for x in range(values.shape[1]):
            out[y, x] = min(max((values[y, x] - black) * slope, np.float32(0)), np.float32(1))
        if power != np.float32(1):
            for x in range(values.shape[1]):
                out[y, x] = out[y, x] ** power
    return out



def tones(planes: np.ndarray) -> np.ndarray:
    """(H, W) luma of the straight colour: of (4, H, W) premultiplied, (3, H, W) opaque or (1, H, W) grey planes."""
    if len(planes) == 1:
        return planes[0]
    return _tones(np.ascontiguousarray(planes), *BT709)


@kernel
def _tones(planes, kr, kg, kb):
    channels, height, width = planes.shape
    out = np.empty((height, width), np.float32)
    for y in range(height):
        for x in range(width):
            out[y, x] = kr * planes[0, y, x] + kg * planes[1, y, x] + kb * planes[2, y, x]
        if channels == 4:
            for x in range(width):
                alpha = planes[3, y, x]
                value = min(out[y, x] / max(alpha, np.float32(1e-6)), np.float32(1))
                out[y, x] = value if alpha > np.float32(1e-6) else np.float32(0)
    return out


@kernel
def trapezoid(values, hidden_below, shown_from, shown_to, hidden_above):
    """0 up to the first point and from the last on, 1 between the middle two, straight in between. Equal points step."""
    out = np.empty_like(values)
    up = np.float32(1) / max(shown_from - hidden_below, np.float32(1e-6))
    down = np.float32(1) / max(hidden_above - shown_to, np.float32(1e-6))
    for y in range(values.shape[0]):
        for x in range(values.shape[1]):
            v = values[y, x]
            rise = min(max((v - hidden_below) * up, np.float32(0)), np.float32(1))
            fall = min(max((hidden_above - v) * down, np.float32(0)), np.float32(1))
            rise = np.float32(1) if v >= shown_from else rise
            fall = np.float32(1) if v <= shown_to else fall
            out[y, x] = rise * fall
    return out
