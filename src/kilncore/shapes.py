"""Soft-edged regions, as weights 0..1 on the output grid: rectangles, ellipses, ramps."""

import math

import numpy as np


def region(shape: str, middle, size, rotation: float, feather: float, box) -> np.ndarray:
    """(H, W) float32, 1 inside. Lengths in output px; the edge is `feather` px wide and never less than 1.

    The distance to an ellipse is its implicit value over its gradient, close to the edge where it counts.
    """
    x, y = _turned(box, middle, rotation)
    rx, ry = max(size[0] / 2, 1e-3), max(size[1] / 2, 1e-3)
    if shape == "rectangle":
        beyond = np.maximum(np.abs(x) - rx, np.abs(y) - ry)
    else:
        value = np.hypot(x / rx, y / ry)
        beyond = value * (value - 1) / np.maximum(np.hypot(x / rx**2, y / ry**2), 1e-6)
    return np.clip(0.5 - beyond / max(feather, 1.0), 0, 1).astype(np.float32)


def ramp(shape: str, first, second, start: float, end: float, box) -> np.ndarray:
    """(H, W) float32: `start` at the first point, `end` at the second and beyond; around the first if `shape` is round."""
    along = (second[0] - first[0], second[1] - first[1])
    length = max(math.hypot(*along), 1e-6)
    angle = math.atan2(along[1], along[0])
    x, y = _turned(box, first, angle)
    share = (x if shape == "straight" else np.hypot(x, y)) / length
    return (start + (end - start) * np.clip(share, 0, 1)).astype(np.float32)


def _turned(box, middle, rotation: float):
    """Coordinates of the box's pixels around `middle`, turned back by `rotation`: two float64 arrays that broadcast."""
    x = (np.arange(box.left, box.right) + 0.5 - middle[0])[None]
    y = (np.arange(box.top, box.bottom) + 0.5 - middle[1])[:, None]
    cos, sin = math.cos(rotation), math.sin(rotation)
    return cos * x + sin * y, cos * y - sin * x
