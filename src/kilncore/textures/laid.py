"""Reading a texture that lies on a surface in perspective.

Each output pixel is a small patch of the texture, told by the Jacobian of the way back. Where it is
no larger than a px of the texture, the texture is read by cubic convolution (Keys 1981, a = -0.5).
Where it is larger, it is the mean of 3 x 3 places spread over the patch, each read between four
neighbours, on copies of the texture so small that the places lie about one of their px apart, and
between two copies where the size lies between them (Heckbert 1989; Williams 1983).
"""

import math

import numpy as np

from kilncore.compiled.kernels import kernel, subroutine
from kilncore.perspective.way_back import back
from kilncore.sampling import cubic_weights
from kilncore.textures.resample import covered, folded, weighted

PLACES = 3.0  # each way, of a patch
SHARP, MEAN = 1.0, 1.5  # px of the texture in a pixel: up to SHARP it is enlarged, from MEAN a mean


def laid(
    level, last: int, size: tuple[int, int], way: np.ndarray, matrix, box, edges: int, unit
) -> np.ndarray:
    """(C + 1, H, W) float32, 0..1: the channels, and how much of each pixel lies on the texture.

    level : number -> (C, h, w) copy, halved so often. last : the smallest one. size : px of the
    texture, that `matrix` counts in from its middle. way : output px to flat output px. matrix : as
    Frame.texture_matrix gives it, for flat output px. box : (left, top, width, height). unit : of a
    copy's stored values.
    """
    left, top, width, height = box
    matrix = np.array(matrix, np.float64)
    sides = np.array(size, np.float64)
    patches, levels = _patches(
        way, matrix, left, top, width, height, float(last), level(0).shape[2] / size[0]
    )
    out = np.zeros((level(0).shape[0] + 1, height, width), np.float32)
    low, high = int(levels.min()), math.ceil(float(levels.max()))
    for number in range(low, high + 1):
        planes = level(number)
        _add(out, planes, patches, levels, sides, number, edges, unit(planes))
    return np.clip(out, 0, 1, out=out)


@subroutine
def _on_texture(way, matrix, x, y):
    u, v, _ = back(way, x, y)
    return (
        matrix[0] * u + matrix[2] * v + matrix[4],
        matrix[1] * u + matrix[3] * v + matrix[5],
    )


@kernel
def _patches(way, matrix, left, top, width, height, last, fine):
    """((6, H, W) float64: the place of each pixel on the texture, from its middle, and the ways
    there across and down; (H, W) float32: the copy, halved so often, that it is read from). fine :
    px of the texture that is not halved to one that is counted.
    """
    patches, levels = np.empty((6, height, width)), np.empty((height, width), np.float32)
    for y in range(height):
        for x in range(width):
            at_x, at_y = left + x + 0.5, top + y + 0.5
            u, v = _on_texture(way, matrix, at_x, at_y)
            u1, v1 = _on_texture(way, matrix, at_x + 0.25, at_y)
            u0, v0 = _on_texture(way, matrix, at_x - 0.25, at_y)
            ux, vx = 2 * (u1 - u0), 2 * (v1 - v0)
            u1, v1 = _on_texture(way, matrix, at_x, at_y + 0.25)
            u0, v0 = _on_texture(way, matrix, at_x, at_y - 0.25)
            uy, vy = 2 * (u1 - u0), 2 * (v1 - v0)
            patches[0, y, x], patches[1, y, x] = u, v
            patches[2, y, x], patches[3, y, x] = ux, vx
            patches[4, y, x], patches[5, y, x] = uy, vy
            largest = math.sqrt(max(ux * ux + vx * vx, uy * uy + vy * vy))
            halved = math.log2(max(largest * fine / PLACES, 1.0))
            levels[y, x] = np.float32(min(max(0.0, halved), last))
    return patches, levels


@kernel
def _add(out, planes, patches, levels, sides, number, edges, unit):
    """Add what pixels read from one copy, each by how near it is to the one that it wants."""
    channels, tall, wide = planes.shape
    sx, sy = wide / sides[0], tall / sides[1]
    columns, rows = np.empty(4, np.int64), np.empty(4, np.int64)
    wx, wy = np.empty(4, np.float32), np.empty(4, np.float32)
    ninth = np.float32(1 / 9)
    for y in range(out.shape[1]):
        for x in range(out.shape[2]):
            share = np.float32(1) - abs(levels[y, x] - np.float32(number))
            if not share > 0:
                continue
            u = (patches[0, y, x] + sides[0] / 2) * sx - 0.5
            v = (patches[1, y, x] + sides[1] / 2) * sy - 0.5
            ux, vx = patches[2, y, x] * sx / PLACES, patches[3, y, x] * sy / PLACES
            uy, vy = patches[4, y, x] * sx / PLACES, patches[5, y, x] * sy / PLACES
            largest = PLACES * math.sqrt(max(ux * ux + vx * vx, uy * uy + vy * vy))
            mean = np.float32(min(max(0.0, (largest - SHARP) / (MEAN - SHARP)), 1.0))
            if number > 0:
                mean = np.float32(1)
            if mean < 1:
                _cubic(
                    out, planes, u, v, edges, share * (1 - mean) * unit, x, y, columns, rows, wx, wy
                )
                out[channels, y, x] += share * (1 - mean) * covered(rows, columns, wy, wx, 4)
            if mean > 0:
                for place in range(9):
                    i, j = place % 3 - 1, place // 3 - 1
                    s, t = u + i * ux + j * uy, v + i * vx + j * vy
                    part = share * mean * ninth
                    _between(out, planes, s, t, edges, part, unit, x, y, columns, rows, wx, wy)


@subroutine
def _cubic(out, planes, u, v, edges, share, x, y, columns, rows, wx, wy):
    """Add a place read by cubic convolution."""
    channels, tall, wide = planes.shape
    i, j = int(np.floor(u)), int(np.floor(v))
    wx[0], wx[1], wx[2], wx[3] = cubic_weights(np.float32(u - i))
    wy[0], wy[1], wy[2], wy[3] = cubic_weights(np.float32(v - j))
    for n in range(4):
        columns[n], rows[n] = folded(i + n - 1, wide, edges), folded(j + n - 1, tall, edges)
    for c in range(channels):
        out[c, y, x] += share * weighted(planes, c, rows, columns, wy, wx, 4)


@subroutine
def _between(out, planes, u, v, edges, share, unit, x, y, columns, rows, wx, wy):
    """Add a place read between its four neighbours, and how much of it lies on the texture."""
    channels, tall, wide = planes.shape
    i, j = int(np.floor(u)), int(np.floor(v))
    s, t = np.float32(u - i), np.float32(v - j)
    if i >= 0 and j >= 0 and i + 1 < wide and j + 1 < tall:
        out[channels, y, x] += share
        for c in range(channels):
            p = planes[c]
            r0 = p[j, i] + s * (np.float32(p[j, i + 1]) - np.float32(p[j, i]))
            r1 = p[j + 1, i] + s * (np.float32(p[j + 1, i + 1]) - np.float32(p[j + 1, i]))
            out[c, y, x] += share * unit * np.float32(r0 + t * (r1 - r0))
        return
    wx[0], wx[1], wy[0], wy[1] = np.float32(1) - s, s, np.float32(1) - t, t
    for n in range(2):
        columns[n], rows[n] = folded(i + n, wide, edges), folded(j + n, tall, edges)
    for c in range(channels):
        out[c, y, x] += share * unit * weighted(planes, c, rows, columns, wy, wx, 2)
    out[channels, y, x] += share * covered(rows, columns, wy, wx, 2)
