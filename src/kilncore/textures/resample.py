"""Reading a texture at places that are not its own pixels.

Enlarged or of its own size: cubic convolution (Keys 1981, a = -0.5). Made smaller: the mean over the area that an
output pixel covers, so that nothing aliases and nothing is lost; the same mean by which exact pictures are shown, and
hence the one that drafts need. Without a turn both are weights along each axis; turned, a place is read with its
neighbours, or as the mean of four places.
"""

import numpy as np

from kilncore.kernels import inlined, kernel, part
from kilncore.sampling import cubic_weights

NONE, REPEAT, MIRROR = 0, 1, 2
EDGES = {"none": NONE, "repeat": REPEAT, "mirror": MIRROR}


def axis(origin: float, step: float, first: int, count: int, size: int, edges: int):
    """For output pixels first .. first + count - 1 along one axis: (indices, weights, covered).

    origin : the texture position of the near edge of output pixel 0, in texture px; step : texture px per output px.
    Positions are worked out from the whole grid's own numbers, so that a pixel is the same in every box.
    indices : (count, K) int32, 0 where nothing is there; weights : (count, K) float32, which add up to `covered`.
    """
    taps = _mean_taps if abs(step) > 1 + 1e-9 else _cubic_taps
    start, weights = taps(origin, step, np.arange(first, first + count + 1))
    indices = _folded(start[:, None] + np.arange(weights.shape[1]), size, edges)
    weights = np.where(indices < 0, 0, weights)
    return np.maximum(indices, 0).astype(np.int32), weights.astype(np.float32), weights.sum(1).astype(np.float32)


def _mean_taps(origin, step, pixels):
    sides = origin + step * pixels
    low, high = np.minimum(sides[:-1], sides[1:]), np.maximum(sides[:-1], sides[1:])
    first = np.floor(low + 1e-9).astype(np.int64)
    found = first[:, None] + np.arange(int(np.ceil(abs(step))) + 1)
    weights = np.maximum(np.minimum(found + 1, high[:, None]) - np.maximum(found, low[:, None]), 0)
    return first, weights / weights.sum(1, keepdims=True)


def _cubic_taps(origin, step, pixels):
    at = origin + step * (pixels[:-1] + 0.5) - 0.5
    index = np.floor(at + 1e-9)
    t = np.maximum(at - index, 0)[:, None]
    return index.astype(np.int64) - 1, np.concatenate(
        [t * t - (t + t**3) / 2, 1.5 * t**3 - 2.5 * t * t + 1, 2 * t * t - 1.5 * t**3 + t / 2, (t**3 - t * t) / 2], 1)


def _folded(indices, size, edges):
    if edges == NONE:
        return np.where((indices < 0) | (indices >= size), -1, indices)
    if edges == REPEAT:
        return indices % size
    indices = indices % (2 * size)
    return np.where(indices < size, indices, 2 * size - 1 - indices)


def upright(planes, across, down, unit) -> np.ndarray:
    """(C, H, W) float32, across and down one after the other.

    across, down : as `axis` gives them. unit : what a stored value of full white is multiplied by to be 1.
    """
    if across[0].shape[1] != 4 or down[0].shape[1] != 4:  # made smaller: rows are added up first, in whole stretches
        first = int(across[0].min())
        return _added_up(planes, across[0] - first, across[1], down[0], down[1], first, int(across[0].max()) + 1, np.float32(unit))
    rows, position = np.unique(down[0], return_inverse=True)
    return _upright(planes, rows, across[0], across[1], position.reshape(down[0].shape).astype(np.int32), down[1], np.float32(unit))


@kernel
def _added_up(planes, ix, wx, iy, wy, first, last, unit):
    channels, (height, tall), (width, wide) = planes.shape[0], iy.shape, ix.shape
    column = np.empty(last - first, np.float32)
    out = np.empty((channels, height, width), np.float32)
    for c in range(channels):
        for y in range(height):
            weight, row = wy[y, 0] * unit, planes[c, iy[y, 0], first:last]
            for x in range(column.size):
                column[x] = weight * np.float32(row[x])
            for k in range(1, tall):
                weight, row = wy[y, k] * unit, planes[c, iy[y, k], first:last]
                if weight != np.float32(0):
                    for x in range(column.size):
                        column[x] += weight * np.float32(row[x])
            for x in range(width):
                total = np.float32(0)
                for k in range(wide):
                    total += wx[x, k] * column[ix[x, k]]
                out[c, y, x] = min(max(total, np.float32(0)), np.float32(1))
    return out


@kernel
def _upright(planes, rows, ix, wx, iy, wy, unit):
    channels, (height, taps), width = planes.shape[0], iy.shape, ix.shape[0]
    narrow = np.empty((rows.size, width), np.float32)
    out = np.empty((channels, height, width), np.float32)
    for c in range(channels):
        for j in range(rows.size):
            row = planes[c, rows[j]]
            for x in range(width):
                narrow[j, x] = (wx[x, 0] * np.float32(row[ix[x, 0]]) + wx[x, 1] * np.float32(row[ix[x, 1]])
                                + wx[x, 2] * np.float32(row[ix[x, 2]]) + wx[x, 3] * np.float32(row[ix[x, 3]]))
        for y in range(height):
            line = out[c, y]
            for x in range(width):
                line[x] = np.float32(0)
            for k in range(taps):
                weight, row = wy[y, k] * unit, narrow[iy[y, k]]
                for x in range(width):
                    line[x] += weight * row[x]
            for x in range(width):
                line[x] = min(max(line[x], np.float32(0)), np.float32(1))
    return out


@inlined
def _fold(i, size, edges):
    if edges == NONE:
        return i if 0 <= i < size else -1
    if edges == REPEAT:
        return i % size
    i = i % (2 * size)
    return i if i < size else 2 * size - 1 - i


@part
def _weighted(planes, c, rows, columns, wy, wx, taps):
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


@part
def _covered(rows, columns, wy, wx, taps):
    down = across = np.float32(0)
    for n in range(taps):
        down += wy[n] if rows[n] >= 0 else np.float32(0)
        across += wx[n] if columns[n] >= 0 else np.float32(0)
    return down * across


@kernel
def turned(planes, u0, v0, ux, vx, uy, vy, left, top, width, height, edges, unit):
    """(C + 1, height, width): the planes by cubic convolution, and how much of each pixel lies on the texture.

    u0, v0 : texture indices of the middle of output pixel (0, 0); (ux, vx), (uy, vy) : the way to the next one across
    and down.
    """
    channels, tall, wide = planes.shape
    out = np.zeros((channels + 1, height, width), np.float32)
    wx, wy, columns, rows = np.empty(4, np.float32), np.empty(4, np.float32), np.empty(4, np.int64), np.empty(4, np.int64)
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
                    r0 = a0 * p[j - 1, i - 1] + a1 * p[j - 1, i] + a2 * p[j - 1, i + 1] + a3 * p[j - 1, i + 2]
                    r1 = a0 * p[j, i - 1] + a1 * p[j, i] + a2 * p[j, i + 1] + a3 * p[j, i + 2]
                    r2 = a0 * p[j + 1, i - 1] + a1 * p[j + 1, i] + a2 * p[j + 1, i + 1] + a3 * p[j + 1, i + 2]
                    r3 = a0 * p[j + 2, i - 1] + a1 * p[j + 2, i] + a2 * p[j + 2, i + 1] + a3 * p[j + 2, i + 2]
                    out[c, y, x] = np.float32(b0 * r0 + b1 * r1 + b2 * r2 + b3 * r3) * unit
            else:
                wx[0], wx[1], wx[2], wx[3], wy[0], wy[1], wy[2], wy[3] = a0, a1, a2, a3, b0, b1, b2, b3
                for n in range(4):
                    columns[n], rows[n] = _fold(i + n - 1, wide, edges), _fold(j + n - 1, tall, edges)
                for c in range(channels):
                    out[c, y, x] = unit * _weighted(planes, c, rows, columns, wy, wx, 4)
                out[channels, y, x] = _covered(rows, columns, wy, wx, 4)
        _held(out, y)
    return out


@kernel
def turned_mean(planes, u0, v0, ux, vx, uy, vy, left, top, width, height, edges, places, unit):
    """The same for a texture made smaller: the mean of places x places within a pixel, each between four neighbours."""
    channels, tall, wide = planes.shape
    out = np.zeros((channels + 1, height, width), np.float32)
    share = np.float32(1 / (places * places))
    wx, wy, columns, rows = np.empty(4, np.float32), np.empty(4, np.float32), np.empty(4, np.int64), np.empty(4, np.int64)
    for y in range(height):
        for place in range(places * places):
            px, py = (place % places + 0.5) / places - 0.5 + left, (place // places + 0.5) / places - 0.5 + top
            for x in range(width):
                u, v = u0 + ux * (x + px) + uy * (y + py), v0 + vx * (x + px) + vy * (y + py)
                i, j = int(np.floor(u)), int(np.floor(v))
                s, t = np.float32(u - i), np.float32(v - j)
                if i >= 0 and j >= 0 and i + 1 < wide and j + 1 < tall:
                    out[channels, y, x] += share
                    for c in range(channels):
                        p = planes[c]
                        r0 = p[j, i] + s * (np.float32(p[j, i + 1]) - np.float32(p[j, i]))
                        r1 = p[j + 1, i] + s * (np.float32(p[j + 1, i + 1]) - np.float32(p[j + 1, i]))
                        out[c, y, x] += share * unit * np.float32(r0 + t * (r1 - r0))
                else:
                    wx[0], wx[1], wy[0], wy[1] = np.float32(1) - s, s, np.float32(1) - t, t
                    for n in range(2):
                        columns[n], rows[n] = _fold(i + n, wide, edges), _fold(j + n, tall, edges)
                    for c in range(channels):
                        out[c, y, x] += share * unit * _weighted(planes, c, rows, columns, wy, wx, 2)
                    out[channels, y, x] += share * _covered(rows, columns, wy, wx, 2)
        _held(out, y)
    return out


@part
def _held(out, y):
    for c in range(out.shape[0]):
        for x in range(out.shape[2]):
            out[c, y, x] = min(max(out[c, y, x], np.float32(0)), np.float32(1))


def whole(start: float, count: int, size: int, edges: int) -> np.ndarray:
    """The folded indices of `count` pixels read as they are."""
    return _folded(round(start) + np.arange(count), size, edges)


@kernel
def copied(planes, rows, columns, unit):
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
