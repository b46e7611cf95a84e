"""Softness along a direction, or out from a point: what a shaken camera or a fast spray leaves.

Every pixel is the mean of places along a short way through it; between pixels values are read by
straight lines.
"""

import math
from typing import Any

import numpy as np

from kilncore.compiled.kernels import kernel, subroutine

MOST_PLACES = 96
BITS = 16
FINE = 1 << BITS  # parts of a pixel, by which places are told
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
    numbers = (*map(float, way), float(out), *map(float, middle))
    if not all(map(math.isfinite, numbers)):
        raise ValueError("a way is numbers by numbers")
    if out == 0:
        return _along(np.ascontiguousarray(planes, np.float32), border, *map(float, way))
    return _outward(np.asarray(planes, np.float32), border, *numbers, *corner)


def _outward(planes: np.ndarray, border: int, *way: Any) -> np.ndarray:
    """A way of its own through every pixel."""
    if len(planes) == 1:
        return _outward_of_one(np.ascontiguousarray(planes[0]), border, *way)[None]
    smear = np.empty(
        (len(planes), planes.shape[1] - 2 * border, planes.shape[2] - 2 * border), np.float32
    )
    for first in range(0, len(planes), 4):
        some = planes[first : first + 4]
        beside = np.zeros((*planes.shape[1:], 4), np.float32)
        beside[..., : len(some)] = np.moveaxis(some, 0, 2)
        smear[first : first + 4] = np.moveaxis(_outward_of_four(beside, border, *way), 2, 0)[
            : len(some)
        ]
    return smear


@subroutine
def _cut(u: float, v: float, most: float):
    """(across, down, how many places) of a way, no longer than it may be."""
    longest = max(abs(u), abs(v)) / 2
    if longest > most:
        u, v = u * most / longest, v * most / longest
    return u, v, min(max(int(np.ceil(max(abs(u), abs(v)))) + 1, 1), MOST_PLACES)


@subroutine
def _place(n: int, count: int, u: float, v: float, most: float):
    """(column, row, share of the next column, of the next row) of a place, from its pixel."""
    t = (n + 0.5) / count - 0.5
    column, row = min(max(-most, t * u), most), min(max(-most, t * v), most)
    i, j = np.floor(column), np.floor(row)
    return int(i), int(j), np.float32(column - i), np.float32(row - j)


@kernel
def _along(planes: np.ndarray, border: int, across: int, down: int):
    """The same way through every pixel: row by row, for each place."""
    channels, tall, wide = planes.shape
    height, width, most = tall - 2 * border, wide - 2 * border, np.float64(border - 1)
    smeared = np.zeros((channels, height, width), np.float32)
    u, v, count = _cut(across, down, most)
    share = np.float32(1.0 / count)
    for n in range(count):
        i, j, s, r = _place(n, count, u, v, most)
        for c in range(channels):
            for y in range(height):
                near, far = planes[c, y + border + j], planes[c, y + border + j + 1]
                row = smeared[c, y]
                for x in range(width):
                    at = np.uint64(x + border + i)
                    beside = at + np.uint64(1)
                    upper = near[at] * (1 - s) + near[beside] * s
                    lower = far[at] * (1 - s) + far[beside] * s
                    row[x] += share * (upper * (1 - r) + lower * r)
    return smeared


@subroutine
def _way_at(
    x: int,
    y: int,
    across: int,
    down: int,
    out: float,
    middle_x: float,
    middle_y: float,
    most: float,
):
    """(column, row, steps along both, how many places) of the way through a pixel, in 1/65536 px
    from it: places are told by whole numbers, and none lies farther off than `most` px.
    """
    u, v, count = _cut(across + out * (x + 0.5 - middle_x), down + out * (y + 0.5 - middle_y), most)
    right, below = np.int64(np.rint(u * FINE / count)), np.int64(np.rint(v * FINE / count))
    column, row = -(right * (count - 1)) // 2, -(below * (count - 1)) // 2
    bound, ends = np.int64(most * FINE), count - 1
    farthest = max(abs(column), abs(column + right * ends), abs(row), abs(row + below * ends))
    if farthest > bound:
        return np.int64(0), np.int64(0), np.int64(0), np.int64(0), 1
    return column, row, right, below, count


@subroutine
def _share(place: int):
    """Of the next pixel, 0..1."""
    return np.float32(place & (FINE - 1)) * np.float32(1 / FINE)


@kernel
def _outward_of_one(
    plane: np.ndarray,
    border: float,
    across: int,
    down: int,
    out: float,
    middle_x: float,
    middle_y: float,
    first_x: float,
    first_y: float,
):
    """(h, w) of a plane (H, W): a way of its own through every pixel."""
    tall, wide = plane.shape
    height, width, most = tall - 2 * border, wide - 2 * border, np.float64(border - 1)
    smear, flat, one = np.empty((height, width), np.float32), plane.reshape(-1), np.uint64(1)
    for y in range(height):
        for x in range(width):
            column, row, right, below, count = _way_at(
                first_x + x, first_y + y, across, down, out, middle_x, middle_y, most
            )
            start, total = (y + border) * wide + x + border, np.float32(0)
            for _ in range(count):
                s, r = _share(column), _share(row)
                at = np.uint64(start + (row >> BITS) * wide + (column >> BITS))
                under = at + np.uint64(wide)
                near = flat[at] * (1 - s) + flat[at + one] * s
                far = flat[under] * (1 - s) + flat[under + one] * s
                total += near * (1 - r) + far * r
                column += right
                row += below
            smear[y, x] = total * np.float32(1.0 / count)
    return smear


@kernel
def _outward_of_four(
    planes: np.ndarray,
    border: float,
    across: int,
    down: int,
    out: float,
    middle_x: float,
    middle_y: float,
    first_x: float,
    first_y: float,
):
    """(h, w, 4) of four planes side by side, (H, W, 4): each place is told once for all four."""
    tall, wide, _ = planes.shape
    height, width, most = tall - 2 * border, wide - 2 * border, np.float64(border - 1)
    smear, flat, line = np.empty((height, width, 4), np.float32), planes.reshape(-1), 4 * wide
    for y in range(height):
        for x in range(width):
            column, row, right, below, count = _way_at(
                first_x + x, first_y + y, across, down, out, middle_x, middle_y, most
            )
            start = (y + border) * line + (x + border) * 4
            a = b = c = d = np.float32(0)
            for _ in range(count):
                s, r = _share(column), _share(row)
                last = s * r
                far, beside = r - last, s - last
                own = np.float32(1) - s - far
                at = np.uint64(start + (row >> BITS) * line + (column >> BITS) * 4)
                to = at + np.uint64(line)
                a += _mixed(flat, at, to, own, beside, far, last)
                at, to = at + np.uint64(1), to + np.uint64(1)
                b += _mixed(flat, at, to, own, beside, far, last)
                at, to = at + np.uint64(1), to + np.uint64(1)
                c += _mixed(flat, at, to, own, beside, far, last)
                at, to = at + np.uint64(1), to + np.uint64(1)
                d += _mixed(flat, at, to, own, beside, far, last)
                column += right
                row += below
            share = np.float32(1.0 / count)
            smear[y, x, 0], smear[y, x, 1] = a * share, b * share
            smear[y, x, 2], smear[y, x, 3] = c * share, d * share
    return smear


@subroutine
def _mixed(flat: np.ndarray, at: int, under: int, own: float, beside: float, far: float, last: int):
    """A value and its neighbours, four apart, right of it, below and both, each by its share."""
    four = np.uint64(4)
    upper = own * flat[at] + beside * flat[at + four]
    return upper + far * flat[under] + last * flat[under + four]
