"""Touch-up: strokes that hide and bring back, replayed in order."""

import math

import numpy as np

from kilncore.box import Box, cut
from kilncore.kernels import kernel


def touched(strokes, own, box) -> np.ndarray:
    """(H, W) float32 weights: 1 untouched; hiding t *= 1 - a, bringing back t += a (1 - t), where a is the stroke.

    own : output pixel of the whole grid to the item's own frame, as Frame.own gives it.
    """
    out = np.ones((box.height, box.width), np.float32)
    for stroke in strokes:
        points = _on_grid(np.array(stroke.points, np.float64), own)
        radius = stroke.radius / math.hypot(own[0], own[1])
        here = _around(points, radius).met(box)
        if not here.empty:
            amount = _amounts(points, radius, min(stroke.hardness, 1 - 1e-3), here) * np.float32(stroke.strength)
            part = cut(out, box, here)
            part += amount * (1 - part) if stroke.back else -amount * part
    return out


def _on_grid(points, own) -> np.ndarray:
    """Points of the item's own frame as output pixel indices."""
    a, b, c, d, e, f = own
    u, v = points[:, 0] - e, points[:, 1] - f
    det = a * d - b * c
    points = np.stack([(d * u - c * v) / det, (a * v - b * u) / det], 1)
    return np.repeat(points, 2, 0) if len(points) == 1 else points


def _around(points, radius) -> Box:
    (left, top), (right, bottom) = np.floor(points.min(0) - radius), np.ceil(points.max(0) + radius)
    return Box(int(left), int(top), int(right) + 1, int(bottom) + 1)


@kernel
def _amounts(points, radius, hardness, box):
    """The most that any segment covers: 1 within the hard part of the radius, then smoothly down to 0 at the radius.

    The edge is never less than a pixel wide.
    """
    left, top, right, bottom = box
    out = np.zeros((bottom - top, right - left), np.float32)
    soft = max(radius * (1 - hardness), 1.0)
    inner = radius - soft
    for n in range(points.shape[0] - 1):
        x0, y0, x1, y1 = points[n, 0], points[n, 1], points[n + 1, 0], points[n + 1, 1]
        dx, dy = x1 - x0, y1 - y0
        square = max(dx * dx + dy * dy, 1e-12)
        for y in range(max(top, int(np.floor(min(y0, y1) - radius))), min(bottom, int(np.ceil(max(y0, y1) + radius)) + 1)):
            for x in range(max(left, int(np.floor(min(x0, x1) - radius))), min(right, int(np.ceil(max(x0, x1) + radius)) + 1)):
                t = min(max(((x - x0) * dx + (y - y0) * dy) / square, 0.0), 1.0)
                away = math.hypot(x - x0 - t * dx, y - y0 - t * dy)
                share = min(max((away - inner) / soft, 0.0), 1.0)
                amount = np.float32(1 - share * share * (3 - 2 * share))
                out[y - top, x - left] = max(out[y - top, x - left], amount)
    return out
