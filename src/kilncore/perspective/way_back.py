"""The way back from a piece to the flat page, pixel by pixel, for compiled code.

A way is a (P, 10) float64 array, one line for each part, the last part of a projection first:
PERSPECTIVE with its inverse matrix, or ROUND with axis, radius, turn, and sine and cosine of the
tilt.
"""

import numpy as np

from kilncore.compiled.kernels import kernel, subroutine

PERSPECTIVE, ROUND = 0.0, 1.0
HORIZON = 1e-4  # of 1 / w: what lies beyond is held there
RIM, FADES = 0.9999, 0.98  # of a cylinder's half width: beyond FADES what lies there fades out
FARTHEST = 2.0**40  # px


@subroutine
def back(way: np.ndarray, x: int, y: int):
    """(x, y on the flat page, how much of it is seen) of a place on the piece."""
    seen = 1.0
    for n in range(way.shape[0]):
        if way[n, 0] == PERSPECTIVE:
            w = way[n, 7] * x + way[n, 8] * y + way[n, 9]
            if not w > HORIZON:
                w, seen = HORIZON, 0.0
            x, y = (
                (way[n, 1] * x + way[n, 2] * y + way[n, 3]) / w,
                (way[n, 4] * x + way[n, 5] * y + way[n, 6]) / w,
            )
        else:
            across = (x - way[n, 1]) / way[n, 2]
            seen *= min(max(0.0, (1 - abs(across)) / (1 - FADES)), 1.0)
            angle = np.arcsin(min(max(-RIM, across), RIM))
            y = (y - way[n, 2] * way[n, 4] * (np.cos(angle) - 1)) / way[n, 5]
            x = way[n, 1] + way[n, 2] * (angle - way[n, 3])
    return min(max(-FARTHEST, x), FARTHEST), min(max(-FARTHEST, y), FARTHEST), seen


@kernel
def points_back(way: int, points: np.ndarray):
    """(N, 3) float64: x, y and how much is seen, of (N, 2) places."""
    out = np.empty((points.shape[0], 3))
    for n in range(points.shape[0]):
        out[n, 0], out[n, 1], out[n, 2] = back(way, points[n, 0], points[n, 1])
    return out


@kernel
def flat_points(way: int, left: int, top: int, width: int, height: int):
    """(3, height, width) float64: x, y and how much is seen, of the middles of pixels."""
    out = np.empty((3, height, width))
    for y in range(height):
        for x in range(width):
            out[0, y, x], out[1, y, x], out[2, y, x] = back(way, left + x + 0.5, top + y + 0.5)
    return out
