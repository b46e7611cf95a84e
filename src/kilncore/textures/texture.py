"""A texture in memory, with ever smaller copies of itself for reading it from afar."""

import math
from functools import cached_property

import numpy as np

from kilncore.colour import BT709
from kilncore.kernels import inlined, kernel
from kilncore.reduce import resized
from kilncore.sampling import cubic_weights

SMALLEST = 8


class Texture:
    """planes : (C, H, W) uint8, C = 1 grey, 3 colour, 4 colour and alpha, premultiplied."""

    def __init__(self, planes: np.ndarray):
        self.planes = np.ascontiguousarray(planes, np.uint8)

    @property
    def size(self) -> tuple[int, int]:
        return self.planes.shape[2], self.planes.shape[1]

    @property
    def nbytes(self) -> int:
        return int(self.planes.nbytes * 4 / 3)

    @cached_property
    def luminance(self) -> "Texture":
        """The texture as a mask: luma times alpha, in one channel."""
        if len(self.planes) == 1:
            return self
        luma = np.tensordot(BT709, self.planes[:3].astype(np.float32), axes=1)
        return Texture(np.rint(luma)[None])

    @cached_property
    def levels(self) -> list[np.ndarray]:
        """The texture at full, half, quarter... size."""
        levels = [self.planes]
        while min(levels[-1].shape[1:]) >= 2 * SMALLEST:
            _, height, width = levels[-1].shape
            half = resized(levels[-1].astype(np.float32), (width + 1) // 2, (height + 1) // 2)
            levels.append(np.rint(half).astype(np.uint8))
        return levels

    def sample(self, matrix: tuple[float, ...], left: int, top: int, width: int, height: int, tiles: bool):
        """(C, height, width) float32, 0..1, of the output pixels from (left, top).

        matrix : as Frame.texture_matrix gives it. tiles : repeat, or else mirror.
        """
        depth = math.log2(max(1.0, math.hypot(matrix[0], matrix[1])))
        level = min(int(depth), len(self.levels) - 1)
        share = min(depth, len(self.levels) - 1) - level
        near = self._at_level(level, matrix, left, top, width, height, tiles)
        if share < 1e-3:
            return near
        far = self._at_level(level + 1, matrix, left, top, width, height, tiles)
        return near + np.float32(share) * (far - near)

    def _at_level(self, level, matrix, left, top, width, height, tiles):
        planes = self.levels[level]
        a, b, c, d, e, f = matrix
        sx, sy = planes.shape[2] / self.size[0], planes.shape[1] / self.size[1]
        # output pixel centres to texture pixel indices, the texture's middle at half its size
        u0 = (a * (left + 0.5) + c * (top + 0.5) + e + self.size[0] / 2) * sx - 0.5
        v0 = (b * (left + 0.5) + d * (top + 0.5) + f + self.size[1] / 2) * sy - 0.5
        steps = (a * sx, b * sy, c * sx, d * sy)
        if level == 0 and steps == (1, 0, 0, 1) and u0 == round(u0) and v0 == round(v0):
            return _copied(planes, round(u0), round(v0), width, height, tiles)
        if steps[1] == steps[2] == 0:
            return _sampled_upright(planes, u0, v0, float(steps[0]), float(steps[3]), width, height, tiles)
        return _sampled(planes, u0, v0, *map(float, steps), width, height, tiles)


def _copied(planes, left, top, width, height, tiles):
    columns = _folded(np.arange(left, left + width), planes.shape[2], tiles)
    rows = _folded(np.arange(top, top + height), planes.shape[1], tiles)
    return planes.take(rows, 1).take(columns, 2).astype(np.float32) / np.float32(255)


def _folded(indices, size, tiles):
    if tiles:
        return indices % size
    indices = indices % (2 * size)
    return np.where(indices < size, indices, 2 * size - 1 - indices)


@inlined
def _fold(i, size, tiles):
    if tiles:
        return i % size
    i = i % (2 * size)
    return i if i < size else 2 * size - 1 - i


@kernel
def _sampled(planes, u0, v0, ux, vx, uy, vy, width, height, tiles):
    channels, rows, columns = planes.shape
    out = np.empty((channels, height, width), np.float32)
    wx, wy = np.empty(4, np.float32), np.empty(4, np.float32)
    cx, cy = np.empty(4, np.int64), np.empty(4, np.int64)
    for y in range(height):
        for x in range(width):
            u, v = u0 + ux * x + uy * y, v0 + vx * x + vy * y
            i, j = int(np.floor(u)), int(np.floor(v))
            cubic_weights(np.float32(u - i), wx)
            cubic_weights(np.float32(v - j), wy)
            for n in range(4):
                cx[n], cy[n] = _fold(i + n - 1, columns, tiles), _fold(j + n - 1, rows, tiles)
            for c in range(channels):
                total = np.float32(0)
                for n in range(4):
                    row = np.float32(0)
                    for m in range(4):
                        row += wx[m] * planes[c, cy[n], cx[m]]
                    total += wy[n] * row
                out[c, y, x] = min(max(total / np.float32(255), np.float32(0)), np.float32(1))
    return out


@kernel
def _sampled_upright(planes, u0, v0, ux, vy, width, height, tiles):
    """The same without a turn: each source row is read across once, then rows are mixed down. A third of the time."""
    channels, rows, columns = planes.shape
    first = int(np.floor(min(v0, v0 + vy * (height - 1)))) - 1
    count = int(np.floor(max(v0, v0 + vy * (height - 1)))) + 3 - first
    weights, at = np.empty((width, 4), np.float32), np.empty((width, 4), np.int64)
    for x in range(width):
        u = u0 + ux * x
        i = int(np.floor(u))
        cubic_weights(np.float32(u - i), weights[x])
        for m in range(4):
            at[x, m] = _fold(i + m - 1, columns, tiles)
    across = np.empty((count, width), np.float32)
    out = np.empty((channels, height, width), np.float32)
    wy = np.empty(4, np.float32)
    for c in range(channels):
        for j in range(count):
            row = planes[c, _fold(first + j, rows, tiles)]
            for x in range(width):
                across[j, x] = (weights[x, 0] * row[at[x, 0]] + weights[x, 1] * row[at[x, 1]]
                                + weights[x, 2] * row[at[x, 2]] + weights[x, 3] * row[at[x, 3]])
        for y in range(height):
            v = v0 + vy * y
            j = int(np.floor(v))
            cubic_weights(np.float32(v - j), wy)
            j -= first + 1
            for x in range(width):
                total = (wy[0] * across[j, x] + wy[1] * across[j + 1, x] + wy[2] * across[j + 2, x] + wy[3] * across[j + 3, x])
                out[c, y, x] = min(max(total / np.float32(255), np.float32(0)), np.float32(1))
    return out
