"""Reading a texture at places that are not its own pixels.

Enlarged or of its own size: cubic convolution (Keys 1981, a = -0.5). Made smaller: the mean over
the area that an output pixel covers, so that nothing aliases and nothing is lost; the same mean by
which exact pictures are shown, and hence the one that drafts need. Without a turn both are weights
along each axis; what is turned is read by `turned`.
"""

import math

import numpy as np

from kilncore.compiled.kernels import inlined, kernel, subroutine
from kilncore.pixels.reduce import added_up

NONE, REPEAT, MIRROR = 0, 1, 2
EDGES = {"none": NONE, "repeat": REPEAT, "mirror": MIRROR}


def axis(origin: float, step: float, first: int, count: int, size: int, edges: int):
    """For output pixels first .. first + count - 1 along one axis: (indices, weights, covered).

    origin : the texture position of the near edge of output pixel 0, in texture px; step : texture
    px per output px. Positions are worked out from the whole grid's own numbers, so that a pixel is
    the same in every box. indices : (K, count) int32, 0 where nothing is there; weights : (K,
    count) float32, which add up to `covered`.
    """
    mean = abs(step) > 1 + 1e-9
    taps = math.ceil(abs(step)) + 1 if mean else 4
    return _axis(float(origin), float(step), first, count, size, edges, taps, mean)


@inlined
def folded(i: float, size: int, edges: float):
    """An index within a texture of that size; -1 where nothing is there."""
    if 0 <= i < size:
        return i
    if edges == NONE:
        return -1
    if edges == REPEAT:
        return i % size
    i = i % (2 * size)
    return i if i < size else 2 * size - 1 - i


@kernel
def _axis(
    origin: float,
    step: int,
    first: int,
    count: int,
    size: int,
    edges: float,
    taps: int,
    mean: float,
):
    indices, weights = np.zeros((taps, count), np.int32), np.zeros((taps, count), np.float32)
    covered, own = np.zeros(count, np.float32), np.empty(taps, np.float64)
    for x in range(count):
        near, far = origin + step * (first + x), origin + step * (first + x + 1)
        if mean:
            low, high = min(near, far), max(near, far)
            start = int(np.floor(low + 1e-9))
            total = 0.0
            for k in range(taps):
                own[k] = max(min(start + k + 1, high) - max(start + k, low), 0.0)
                total += own[k]
            own /= total
        else:
            at = origin + step * (first + x + 0.5) - 0.5
            start = int(np.floor(at + 1e-9))
            t = max(at - start, 0.0)
            start -= 1
            own[0], own[1] = t * t - (t + t**3) / 2, 1.5 * t**3 - 2.5 * t * t + 1
            own[2], own[3] = 2 * t * t - 1.5 * t**3 + t / 2, (t**3 - t * t) / 2
        for k in range(taps):
            i = folded(start + k, size, edges)
            if i >= 0:
                indices[k, x], weights[k, x] = i, own[k]
                covered[x] += np.float32(own[k])
    return indices, weights, covered


def _folded(indices: np.ndarray, size: int, edges: int):
    if edges == NONE:
        return np.where((indices < 0) | (indices >= size), -1, indices)
    if edges == REPEAT:
        return indices % size
    indices = indices % (2 * size)
    return np.where(indices < size, indices, 2 * size - 1 - indices)


def upright(planes: np.ndarray, across: tuple, down: tuple, unit: float) -> np.ndarray:
    """(C, H, W) float32, down and across one after the other: whole stretches of rows are added up
    first.

    across, down : as `axis` gives them. unit : what a stored value of full white is multiplied by
    to be 1.
    """
    return added_up(planes, across[0], across[1], down[0], down[1], np.float32(unit), np.float32(1))


@subroutine
def weighted(
    planes: np.ndarray,
    c: int,
    rows: np.ndarray,
    columns: np.ndarray,
    wy: np.ndarray,
    wx: np.ndarray,
    taps: int,
):
    """One channel's sum over taps x taps neighbours; an index of -1 adds nothing."""
    total = np.float32(0)
    for n in range(taps):
        if rows[n] >= 0:
            line = np.float32(0)
            for m in range(taps):
                if columns[m] >= 0:
                    line += wx[m] * np.float32(planes[c, rows[n], columns[m]])
            total += wy[n] * line
    return total


@subroutine
def covered(rows: np.ndarray, columns: np.ndarray, wy: np.ndarray, wx: np.ndarray, taps: int):
    """How much of a place lies on the texture."""
    down = across = np.float32(0)
    for n in range(taps):
        down += wy[n] if rows[n] >= 0 else np.float32(0)
        across += wx[n] if columns[n] >= 0 else np.float32(0)
    return down * across


def whole(start: float, count: int, size: int, edges: int) -> np.ndarray:
    """The folded indices of `count` pixels read as they are."""
    return _folded(round(start) + np.arange(count), size, edges)


@kernel
def copied(planes: np.ndarray, rows: np.ndarray, columns: np.ndarray, unit: float):
    """Whole pixels as they are. rows, columns : folded indices."""
    channels, height, width = planes.shape[0], rows.size, columns.size
    out = np.empty((channels, height, width), np.float32)
    for c in range(channels):
        for y in range(height):
            row = planes[c, rows[y]]
            first = columns[0]
            if columns[width - 1] - first == width - 1:
                run = row[first : first + width]
                for x in range(width):
                    out[c, y, x] = np.float32(run[x]) * unit
            else:
                for x in range(width):
                    out[c, y, x] = np.float32(row[columns[x]]) * unit
    return out
