"""Softness along a direction, or out from a point: what a shaken camera or a fast spray leaves.

Every pixel is the mean of places along a short way through it; between pixels values are read by
straight lines.
"""

import math

import numpy as np

from kilncore.compiled.kernels import kernel

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
    return _smeared(np.ascontiguousarray(planes, np.float32), border, *told, *corner)


@kernel
def _smeared(planes, border, across, down, out, middle_x, middle_y, first_x, first_y):
    channels, tall, wide = planes.shape
    height, width = tall - 2 * border, wide - 2 * border
    found = np.zeros((channels, height, width), np.float32)
    most = np.float64(border - 1)
    for y in range(height):
        for x in range(width):
            u = across + out * (first_x + x + 0.5 - middle_x)
            v = down + out * (first_y + y + 0.5 - middle_y)
            longest = max(abs(u), abs(v)) / 2
            if longest > most:
                u, v = u * most / longest, v * most / longest
            count = min(max(int(np.ceil(max(abs(u), abs(v)))) + 1, 1), MOST_PLACES)
            share = np.float32(1.0 / count)
            for n in range(count):
                t = (n + 0.5) / count - 0.5
                column, row = min(max(-most, t * u), most), min(max(-most, t * v), most)
                i, j = np.floor(column), np.floor(row)
                s, r = np.float32(column - i), np.float32(row - j)
                left, top = x + border + int(i), y + border + int(j)
                for c in range(channels):
                    near = planes[c, top, left] * (1 - s) + planes[c, top, left + 1] * s
                    far = planes[c, top + 1, left] * (1 - s) + planes[c, top + 1, left + 1] * s
                    found[c, y, x] += share * (near * (1 - r) + far * r)
    return found
