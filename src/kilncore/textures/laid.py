"""Reading a texture that lies on a surface in perspective.

Each output pixel is a small patch of the texture, told by the Jacobian of the way back. Where it is
no larger than a px of the texture, the texture is read by cubic convolution (Keys 1981, a = -0.5).
Where it is larger, it is the mean of 3 x 3 places or more spread over the patch, each read between
four neighbours, on copies of the texture so small that the places lie about one of their px apart,
and between two copies where the size lies between them (Heckbert 1989; Williams 1983).
"""

import math
from collections.abc import Callable

import numpy as np

from kilncore.compiled.kernels import inlined, kernel, subroutine
from kilncore.perspective.way_back import flat_points
from kilncore.sampling import cubic_weights
from kilncore.textures.resample import REPEAT, covered, folded, weighted

LEAST_PLACES, MOST_PLACES = 3, 4  # each way, of a patch
SHARP, MEAN = 1.0, 1.2  # px of the texture in a pixel: up to SHARP it is enlarged, from MEAN a mean


def laid(
    level: Callable,
    last: int,
    size: tuple[int, int],
    way: np.ndarray,
    matrix: tuple,
    box: tuple,
    edges: int,
    unit: Callable,
) -> np.ndarray:
    """(C + 1, H, W) float32, 0..1: the channels, and how much of each pixel lies on the texture.

    level : number -> (C, h, w) copy, halved so often. last : the smallest one. size : px of the
    texture, that `matrix` counts in from its middle. way : output px to flat output px. matrix : as
    Frame.texture_matrix gives it, for flat output px. box : (left, top, width, height). unit : of a
    copy's stored values.
    """
    left, top, width, height = box
    onto = np.array(matrix, np.float64)
    sides = np.array(size, np.float64)
    flat = flat_points(way, left - 1, top - 1, width + 2, height + 2)
    fine = level(0).shape[2] / size[0]
    patches, levels = _patches(flat, onto, float(last), fine)
    out = np.zeros((level(0).shape[0] + 1, height, width), np.float32)
    low, high = int(levels.min()), math.ceil(float(levels.max()))
    for number in range(low, high + 1):
        planes = np.ascontiguousarray(level(number))
        _add(out, planes, patches, levels, sides, number, edges, unit(planes))
    return np.clip(out, 0, 1, out=out)


@kernel
def _patches(flat: np.ndarray, matrix: tuple, last: int, fine: float):
    """((6, H, W) float64: the place of each pixel on the texture, from its middle, and the ways
    there across and down; (H, W) float32: the copy, halved so often, that it is read from). flat :
    (3, H + 2, W + 2), as `flat_points` gives it, with 1 px around. fine : px of the texture that is
    not halved to one that is counted.
    """
    height, width = flat.shape[1] - 2, flat.shape[2] - 2
    a, b, c, d, e, f = matrix
    patches, levels = np.empty((6, height, width)), np.empty((height, width), np.float32)
    for y in range(height):
        for x in range(width):
            u, v = flat[0, y + 1, x + 1], flat[1, y + 1, x + 1]
            patches[0, y, x], patches[1, y, x] = a * u + c * v + e, b * u + d * v + f
            u = (flat[0, y + 1, x + 2] - flat[0, y + 1, x]) / 2
            v = (flat[1, y + 1, x + 2] - flat[1, y + 1, x]) / 2
            ux, vx = a * u + c * v, b * u + d * v
            u = (flat[0, y + 2, x + 1] - flat[0, y, x + 1]) / 2
            v = (flat[1, y + 2, x + 1] - flat[1, y, x + 1]) / 2
            uy, vy = a * u + c * v, b * u + d * v
            patches[2, y, x], patches[3, y, x] = ux, vx
            patches[4, y, x], patches[5, y, x] = uy, vy
            largest = math.sqrt(max(ux * ux + vx * vx, uy * uy + vy * vy)) * fine
            halved = 0.0
            if largest > MOST_PLACES:
                halved = math.log2(largest / MOST_PLACES)
            levels[y, x] = np.float32(min(halved, last))
    return patches, levels


@kernel
def _add(
    out: np.ndarray,
    planes: np.ndarray,
    patches: np.ndarray,
    levels: np.ndarray,
    sides: np.ndarray,
    number: int,
    edges: float,
    unit: float,
):
    """Add what pixels read from one copy, each by how near it is to the one that it wants."""
    channels, tall, wide = planes.shape
    sx, sy = wide / sides[0], tall / sides[1]
    columns, rows = np.empty(4, np.int64), np.empty(4, np.int64)
    wx, wy = np.empty(4, np.float32), np.empty(4, np.float32)
    sums, stored = np.empty(channels + 1, np.float32), planes.reshape(-1)
    most = MOST_PLACES * MOST_PLACES
    at, ss, ts = np.empty(most, np.uintp), np.empty(most, np.float32), np.empty(most, np.float32)
    for y in range(out.shape[1]):
        for x in range(out.shape[2]):
            share = np.float32(1) - abs(levels[y, x] - np.float32(number))
            if not share > 0:
                continue
            u = (patches[0, y, x] + sides[0] / 2) * sx - 0.5
            v = (patches[1, y, x] + sides[1] / 2) * sy - 0.5
            if edges == REPEAT:  # nearer to the first copy of it: most patches lie inside
                u, v = u - np.floor(u / wide) * wide, v - np.floor(v / tall) * tall
            ux, vx = patches[2, y, x] * sx, patches[3, y, x] * sy
            uy, vy = patches[4, y, x] * sx, patches[5, y, x] * sy
            across, down = math.sqrt(ux * ux + vx * vx), math.sqrt(uy * uy + vy * vy)
            mean = np.float32(1)
            if number == 0:
                mean = np.float32((max(across, down) - SHARP) / (MEAN - SHARP))
                mean = min(max(np.float32(0), mean), np.float32(1))
            sums[:] = 0
            if mean < 1:
                part = np.float32(1) - mean
                _cubic(sums, planes, stored, u, v, edges, part, columns, rows, wx, wy)
            if mean > 0:
                ways = ux, vx, uy, vy, _places(across), _places(down)
                if _inside(wide, tall, u, v, ways):
                    _mean_inside(sums, stored, wide, wide * tall, u, v, ways, mean, at, ss, ts)
                else:
                    _mean(sums, planes, u, v, ways, edges, mean, columns, rows, wx, wy)
            for c in range(channels):
                out[c, y, x] += share * unit * sums[c]
            out[channels, y, x] += share * sums[channels]


@inlined
def _places(length: float):
    """At how many places along a way of so many px a texture is read."""
    return int(min(max(np.ceil(length + 0.5), LEAST_PLACES), MOST_PLACES))


@inlined
def _inside(wide: int, tall: int, u: float, v: float, ways: np.ndarray):
    """Whether a patch, and the neighbours of all its places, lie on the texture. ways : across and
    down the patch, and at how many places along each it is read.
    """
    half_u, half_v = (abs(ways[0]) + abs(ways[2])) / 2, (abs(ways[1]) + abs(ways[3])) / 2
    return u - half_u >= 0 and v - half_v >= 0 and u + half_u < wide - 1 and v + half_v < tall - 1


@subroutine
def _mean(
    sums: float,
    planes: float,
    u: float,
    v: float,
    ways: tuple,
    edges: float,
    share: float,
    columns: int,
    rows: int,
    wx: float,
    wy: float,
):
    """Add the mean of the places of a patch that may lie beyond the texture's end."""
    ux, vx, uy, vy, m, n = ways
    part = share / np.float32(m * n)
    for place in range(m * n):
        i, j = (place % m + 0.5) / m - 0.5, (place // m + 0.5) / n - 0.5
        s, t = u + i * ux + j * uy, v + i * vx + j * vy
        _between(sums, planes, s, t, edges, part, columns, rows, wx, wy)


@inlined
def _mean_inside(
    sums: np.ndarray,
    stored: np.ndarray,
    wide: int,
    plane: float,
    u: float,
    v: float,
    ways: tuple,
    share: float,
    at: np.ndarray,
    ss: np.ndarray,
    ts: np.ndarray,
):
    """The same of a patch that lies on the texture. stored : the planes in one row. plane : px of
    one. at, ss, ts : room for the places, and how far each lies between its neighbours.
    """
    ux, vx, uy, vy, m, n = ways
    part = share / np.float32(m * n)
    u, v = u - (ux + uy) / 2, v - (vx + vy) / 2
    ux, vx, uy, vy = ux / m, vx / m, uy / n, vy / n
    count = m * n
    for b in range(n):
        for a in range(m):
            s = u + (a + 0.5) * ux + (b + 0.5) * uy
            t = v + (a + 0.5) * vx + (b + 0.5) * vy
            i, j = np.uintp(s), np.uintp(t)
            k = b * m + a
            at[k] = j * np.uintp(wide) + i
            ss[k], ts[k] = np.float32(s - i), np.float32(t - j)
    one, row = np.uintp(1), np.uintp(wide)
    for c in range(sums.size - 1):
        total, first = np.float32(0), np.uintp(c * plane)
        for k in range(count):
            here = first + at[k]
            p00, p01 = np.float32(stored[here]), np.float32(stored[here + one])
            p10, p11 = np.float32(stored[here + row]), np.float32(stored[here + row + one])
            near, far = p00 + ss[k] * (p01 - p00), p10 + ss[k] * (p11 - p10)
            total += near + ts[k] * (far - near)
        sums[c] += part * total
    sums[-1] += part * np.float32(count)


@inlined
def _cubic_inside(
    sums: np.ndarray,
    stored: np.ndarray,
    wide: int,
    plane: float,
    i: float,
    j: float,
    share: float,
    wx: np.ndarray,
    wy: np.ndarray,
):
    """Add a place read by cubic convolution, of which all neighbours lie on the texture."""
    one, row = np.uintp(1), np.uintp(wide)
    for c in range(sums.size - 1):
        here = np.uintp(c * plane + (j - 1) * wide + i - 1)
        total = np.float32(0)
        for n in range(4):
            line = wx[0] * np.float32(stored[here])
            line += wx[1] * np.float32(stored[here + one])
            line += wx[2] * np.float32(stored[here + one + one])
            line += wx[3] * np.float32(stored[here + one + one + one])
            total += wy[n] * line
            here += row
        sums[c] += share * total
    sums[-1] += share


@inlined
def _cubic(
    sums: np.ndarray,
    planes: np.ndarray,
    stored: float,
    u: float,
    v: float,
    edges: float,
    share: float,
    columns: np.ndarray,
    rows: np.ndarray,
    wx: np.ndarray,
    wy: np.ndarray,
):
    """Add a place read by cubic convolution."""
    channels, tall, wide = planes.shape
    i, j = int(np.floor(u)), int(np.floor(v))
    wx[0], wx[1], wx[2], wx[3] = cubic_weights(np.float32(u - i))
    wy[0], wy[1], wy[2], wy[3] = cubic_weights(np.float32(v - j))
    if i >= 1 and j >= 1 and i + 2 < wide and j + 2 < tall:
        _cubic_inside(sums, stored, wide, wide * tall, i, j, share, wx, wy)
        return
    for n in range(4):
        columns[n], rows[n] = folded(i + n - 1, wide, edges), folded(j + n - 1, tall, edges)
    for c in range(channels):
        sums[c] += share * weighted(planes, c, rows, columns, wy, wx, 4)
    sums[channels] += share * covered(rows, columns, wy, wx, 4)


@subroutine
def _between(
    sums: np.ndarray,
    planes: np.ndarray,
    u: float,
    v: float,
    edges: float,
    share: float,
    columns: np.ndarray,
    rows: np.ndarray,
    wx: np.ndarray,
    wy: np.ndarray,
):
    """Add a place read between its four neighbours, and how much of it lies on the texture."""
    channels, tall, wide = planes.shape
    i, j = int(np.floor(u)), int(np.floor(v))
    s, t = np.float32(u - i), np.float32(v - j)
    wx[0], wx[1], wy[0], wy[1] = np.float32(1) - s, s, np.float32(1) - t, t
    for n in range(2):
        columns[n], rows[n] = folded(i + n, wide, edges), folded(j + n, tall, edges)
    for c in range(channels):
        sums[c] += share * weighted(planes, c, rows, columns, wy, wx, 2)
    sums[channels] += share * covered(rows, columns, wy, wx, 2)
