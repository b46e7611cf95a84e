"""Softness along a direction, or out from a point: what a shaken camera or a fast spray leaves.

Every pixel is the mean of places along a short way through it; between pixels values are read by
straight lines.
"""

import math

import numpy as np

from kilncore.compiled.kernels import kernel, subroutine

MOST_PLACES = 96
MOST_PX = 200.0


def smeared(
    planes: np.ndarray,
    border: int,
    way: tuple[float, float],
    out: float,
    middle: tuple[float, float],
    corner: tuple[int, int] = (0, 0),
) -> np.ndarray:
    """(C, h, w) float32: the mean along `way` px, plus `out` times the way from `middle`, half to
    either side of each pixel.

    planes : (C, H, W) with `border` px around what is given back. middle : (x, y), where `corner`
    is the first pixel that is given back. No way is longer than 2 (border - 1) px: it is cut there.
    """
    if border < 2 or planes.ndim != 3 or min(planes.shape[1:]) <= 2 * border:
        raise ValueError(f"planes of {planes.shape} have no border of {border} px")
    told = (*map(float, way), float(out), *map(float, middle))
    if not all(map(math.isfinite, told)):
        raise ValueError("a way is told by numbers")
    if out == 0:
        return _along(np.ascontiguousarray(planes, np.float32), border, *map(float, way))
    return _outward(np.ascontiguousarray(planes, np.float32), border, *told, *corner)


@subroutine
def _cut(u, v, most):
    """(across, down, how many places) of a way, no longer than it may be."""
    longest = max(abs(u), abs(v)) / 2
    if longest > most:
        u, v = u * most / longest, v * most / longest
    return u, v, min(max(int(np.ceil(max(abs(u), abs(v)))) + 1, 1), MOST_PLACES)


@subroutine
def _place(n, count, u, v, most):
    """(column, row, share of the next column, of the next row) of a place, from its pixel."""
    t = (n + 0.5) / count - 0.5
    column, row = min(max(-most, t * u), most), min(max(-most, t * v), most)
    i, j = np.floor(column), np.floor(row)
    return int(i), int(j), np.float32(column - i), np.float32(row - j)


@kernel
def _along(planes, border, across, down):
    """The same way through every pixel: row by row, for each place."""
    channels, tall, wide = planes.shape
    height, width, most = tall - 2 * border, wide - 2 * border, np.float64(border - 1)
    found = np.zeros((channels, height, width), np.float32)
    u, v, count = _cut(across, down, most)
    share = np.float32(1.0 / count)
    for n in range(count):
        i, j, s, r = _place(n, count, u, v, most)
        for c in range(channels):
            for y in range(height):
                near, far = planes[c, y + border + j], planes[c, y + border + j + 1]
                row = found[c, y]
                for x in range(width):
                    at = np.uint64(x + border + i)
                    beside = at + np.uint64(1)
                    upper = near[at] * (1 - s) + near[beside] * s
                    lower = far[at] * (1 - s) + far[beside] * s
                    row[x] += share * (upper * (1 - r) + lower * r)
    return found


@kernel
def _outward(planes, border, across, down, out, middle_x, middle_y, first_x, first_y):
    """A way of its own through every pixel."""
    channels, tall, wide = planes.shape
    height, width, most = tall - 2 * border, wide - 2 * border, np.float64(border - 1)
    found = np.zeros((channels, height, width), np.float32)
    for y in range(height):
        for x in range(width):
            u, v, count = _cut(
                across + out * (first_x + x + 0.5 - middle_x),
                down + out * (first_y + y + 0.5 - middle_y),
                most,
            )
            share = np.float32(1.0 / count)
            for n in range(count):
                i, j, s, r = _place(n, count, u, v, most)
                left, top = np.uint64(x + border + i), np.uint64(y + border + j)
                right, below = left + np.uint64(1), top + np.uint64(1)
                for c in range(channels):
                    near = planes[c, top, left] * (1 - s) + planes[c, top, right] * s
                    far = planes[c, below, left] * (1 - s) + planes[c, below, right] * s
                    found[c, y, x] += share * (near * (1 - r) + far * r)
    return found
