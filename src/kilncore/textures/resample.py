"""Reading a texture at places that are not its own pixels.

Enlarged or of its own size: cubic convolution (Keys 1981, a = -0.5). Made smaller: the mean over
the area that an output pixel covers, so that nothing aliases and nothing is lost; the same mean by
which exact pictures are shown, and hence the one that drafts need. Without a turn both are weights
along each axis; turned, a place is read with its neighbours, or as the mean of four places.
"""

import math

import numpy as np

from kilncore.compiled.kernels import inlined, kernel, subroutine
from kilncore.pixels.reduce import added_up
from kilncore.sampling import cubic_weights

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


@kernel
def turned(
    planes: np.ndarray,
    u0: float,
    v0: float,
    ux: float,
    vx: float,
    uy: float,
    vy: float,
    left: int,
    top: int,
    width: int,
    height: int,
    edges: np.ndarray,
    unit: float,
):
    """(C + 1, height, width): the planes by cubic convolution, and how much of each pixel lies on
    the texture.

    u0, v0 : texture indices of the middle of output pixel (0, 0); (ux, vx), (uy, vy) : the way to
    the next one across and down.
    """
    channels, tall, wide = planes.shape
    out = np.zeros((channels + 1, height, width), np.float32)
    wx, wy, columns, rows = (
        np.empty(4, np.float32),
        np.empty(4, np.float32),
        np.empty(4, np.int64),
        np.empty(4, np.int64),
    )
    for y in range(height):
        for x in range(width):
            u, v = u0 + ux * (x + left) + uy * (y + top), v0 + vx * (x + left) + vy * (y + top)
            i, j = int(np.floor(u)), int(np.floor(v))
            a0, a1, a2, a3 = cubic_weights(np.float32(u - i))
            b0, b1, b2, b3 = cubic_weights(np.float32(v - j))
            if i >= 1 and j >= 1 and i + 2 < wide and j + 2 < tall:
                out[channels, y, x] = np.float32(1)
                for c in range(channels):
                    p = planes[c]
                    r0 = (
                        a0 * p[j - 1, i - 1]
                        + a1 * p[j - 1, i]
                        + a2 * p[j - 1, i + 1]
                        + a3 * p[j - 1, i + 2]
                    )
                    r1 = a0 * p[j, i - 1] + a1 * p[j, i] + a2 * p[j, i + 1] + a3 * p[j, i + 2]
                    r2 = (
                        a0 * p[j + 1, i - 1]
                        + a1 * p[j + 1, i]
                        + a2 * p[j + 1, i + 1]
                        + a3 * p[j + 1, i + 2]
                    )
                    r3 = (
                        a0 * p[j + 2, i - 1]
                        + a1 * p[j + 2, i]
                        + a2 * p[j + 2, i + 1]
                        + a3 * p[j + 2, i + 2]
                    )
                    out[c, y, x] = np.float32(b0 * r0 + b1 * r1 + b2 * r2 + b3 * r3) * unit
            else:
                wx[0], wx[1], wx[2], wx[3], wy[0], wy[1], wy[2], wy[3] = (
                    a0,
                    a1,
                    a2,
                    a3,
                    b0,
                    b1,
                    b2,
                    b3,
                )
                for n in range(4):
                    columns[n], rows[n] = (
                        folded(i + n - 1, wide, edges),
                        folded(j + n - 1, tall, edges),
                    )
                for c in range(channels):
                    out[c, y, x] = unit * weighted(planes, c, rows, columns, wy, wx, 4)
                out[channels, y, x] = covered(rows, columns, wy, wx, 4)
        _held(out, y)
    return out


@kernel
def turned_mean(
    planes: np.ndarray,
    u0: float,
    v0: float,
    ux: float,
    vx: float,
    uy: float,
    vy: float,
    left: int,
    top: int,
    width: int,
    height: int,
    edges: np.ndarray,
    places: int,
    unit: float,
):
    """The same for a texture made smaller: the mean of places x places within a pixel, each between
    four neighbours.
    """
    channels, tall, wide = planes.shape
    out = np.zeros((channels + 1, height, width), np.float32)
    share = np.float32(1 / (places * places))
    across, down = np.empty(width, np.float32), np.empty(width, np.float32)
    left_of, above = np.empty(width, np.int64), np.empty(width, np.int64)
    for y in range(height):
        for place in range(places * places):
            px, py = (
                (place % places + 0.5) / places - 0.5 + left,
                (place // places + 0.5) / places - 0.5 + top,
            )
            for x in range(width):
                u, v = u0 + ux * (x + px) + uy * (y + py), v0 + vx * (x + px) + vy * (y + py)
                i, j = np.floor(u), np.floor(v)
                across[x], down[x] = np.float32(u - i), np.float32(v - j)
                left_of[x], above[x] = int(i), int(j)
            # places lie on a line: if both ends are inside, all are
            inside = True
            for x in (0, width - 1):
                inside &= left_of[x] >= 0 and left_of[x] + 1 < wide
                inside &= above[x] >= 0 and above[x] + 1 < tall
            if inside:
                _add_inside(planes, left_of, above, across, down, share, unit, out, y)
            else:
                _add_folded(planes, left_of, above, across, down, edges, share, unit, out, y)
        _held(out, y)
    return out


@subroutine
def _add_inside(
    planes: np.ndarray,
    left_of: np.ndarray,
    above: np.ndarray,
    across: np.ndarray,
    down: np.ndarray,
    share: float,
    unit: float,
    out: np.ndarray,
    y: int,
):
    """One place of each pixel of a row, between four neighbours that lie on the texture. An index
    that cannot be negative is not looked at twice.
    """
    channels, width = planes.shape[0], len(across)
    for x in range(width):
        out[channels, y, x] += share
    if channels == 1:
        p = planes[0]
        for x in range(width):
            i, j, s, t = np.uintp(left_of[x]), np.uintp(above[x]), across[x], down[x]
            right, below = i + np.uintp(1), j + np.uintp(1)
            r0 = p[j, i] + s * (np.float32(p[j, right]) - np.float32(p[j, i]))
            r1 = p[below, i] + s * (np.float32(p[below, right]) - np.float32(p[below, i]))
            out[0, y, x] += share * unit * np.float32(r0 + t * (r1 - r0))
        return
    for x in range(width):
        i, j, s, t = np.uintp(left_of[x]), np.uintp(above[x]), across[x], down[x]
        right, below = i + np.uintp(1), j + np.uintp(1)
        for c in range(channels):
            p = planes[c]
            r0 = p[j, i] + s * (np.float32(p[j, right]) - np.float32(p[j, i]))
            r1 = p[below, i] + s * (np.float32(p[below, right]) - np.float32(p[below, i]))
            out[c, y, x] += share * unit * np.float32(r0 + t * (r1 - r0))


@subroutine
def _add_folded(
    planes: np.ndarray,
    left_of: np.ndarray,
    above: np.ndarray,
    across: np.ndarray,
    down: np.ndarray,
    edges: int,
    share: float,
    unit: float,
    out: np.ndarray,
    y: int,
):
    """The same where some of them lie beyond it."""
    channels, tall, wide = planes.shape
    wx, wy, columns, rows = (
        np.empty(2, np.float32),
        np.empty(2, np.float32),
        np.empty(2, np.int64),
        np.empty(2, np.int64),
    )
    for x in range(len(across)):
        i, j, s, t = left_of[x], above[x], across[x], down[x]
        if i >= 0 and j >= 0 and i + 1 < wide and j + 1 < tall:
            out[channels, y, x] += share
            for c in range(channels):
                p = planes[c]
                r0 = p[j, i] + s * (np.float32(p[j, i + 1]) - np.float32(p[j, i]))
                r1 = p[j + 1, i] + s * (np.float32(p[j + 1, i + 1]) - np.float32(p[j + 1, i]))
                out[c, y, x] += share * unit * np.float32(r0 + t * (r1 - r0))
            continue
        wx[0], wx[1], wy[0], wy[1] = np.float32(1) - s, s, np.float32(1) - t, t
        for n in range(2):
            columns[n], rows[n] = folded(i + n, wide, edges), folded(j + n, tall, edges)
        for c in range(channels):
            out[c, y, x] += share * unit * weighted(planes, c, rows, columns, wy, wx, 2)
        out[channels, y, x] += share * covered(rows, columns, wy, wx, 2)


@subroutine
def _held(out: np.ndarray, y: int):
    for c in range(out.shape[0]):
        for x in range(out.shape[2]):
            out[c, y, x] = min(max(np.float32(0), out[c, y, x]), np.float32(1))


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
