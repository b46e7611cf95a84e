"""Cells around points that are strewn evenly: what cracks, flakes and stones are made of. They wrap
at the edges.

Method: Worley, A cellular texture basis function, 1996.
"""

from dataclasses import dataclass

import numpy as np

from kilncore.compiled.kernels import inlined, kernel
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.halves import by_rows

AROUND = 2  # places to each side that may be nearest
FAR, NOWHERE = np.float32(1e30), np.float32(0)
JITTER = 0.86  # of a place of the grid: how far a point may lie from its middle


@dataclass(frozen=True)
class Cells:
    """number : (H, W) int32, of the cell that a px lies in. apart : (H, W) float32 px at 300
    ppi, 0 on the border of two cells. xs, ys : of each cell's point, px of the picture.
    """

    number: np.ndarray
    apart: np.ndarray
    xs: np.ndarray
    ys: np.ndarray

    def of_each(self, values: np.ndarray) -> np.ndarray:
        """(..., H, W) float32: each px has its cell's value. values : (..., cells)."""
        return of_each(self.number, values)


def of_each(number: np.ndarray, values: np.ndarray) -> np.ndarray:
    """(..., H, W) float32 of (..., N) values, by a number below N at each px."""
    given = np.ascontiguousarray(values, np.float32).reshape(-1, values.shape[-1])
    if not 0 <= int(number.min()) <= int(number.max()) < given.shape[1]:
        raise ValueError("there is no value for some of the numbers")
    out = np.empty((len(given), *number.shape), np.float32)
    by_rows(len(number), lambda top, end: _read(given, number, out, top, end))
    return out.reshape(*values.shape[:-1], *number.shape)


def cells(
    fields: Fields,
    size: float,
    across: np.ndarray,
    down: np.ndarray,
    *,
    wide: float = 1.0,
    jitter: float = JITTER,
) -> Cells:
    """Of about that size, px. across, down : (H, W) float32 px, by which each px is shifted, so
    that borders are not straight. wide : how many times wider than tall they are. jitter : of a
    place of the grid, 0..1.
    """
    scale, width, height = fields.scale, fields.width, fields.height
    columns = max(2, round(width / (size * wide * scale)))
    rows = max(2, round(height / (size * scale)))
    places = np.indices((rows, columns)) + 0.5
    places = places + jitter * (fields.rng.random((2, rows, columns)) - 0.5)
    ys, xs = places[0] * (height / rows), places[1] * (width / columns)
    shifts = [np.ascontiguousarray(one, np.float32) * np.float32(scale) for one in (across, down)]
    number, apart = np.empty((height, width), np.int32), np.empty((height, width), np.float32)
    # beside its own, each cell's neighbours beyond the edges, where they lie
    ys, xs = (np.pad(one, AROUND, mode="wrap") for one in (ys, xs))
    xs[:, :AROUND] -= width
    xs[:, -AROUND:] += width
    ys[:AROUND] -= height
    ys[-AROUND:] += height
    given = xs.astype(np.float32), ys.astype(np.float32), *shifts, (1 - jitter) / 2
    by_rows(height, lambda top, end: _nearest(*given, number, apart, top, end))
    inner = slice(AROUND, -AROUND)
    ys, xs = ys[inner, inner], xs[inner, inner]
    Fields.told()
    return Cells(number, apart / np.float32(scale), xs.ravel(), ys.ravel())


@inlined
def _weighed(found: tuple, qx: float, qy: float, at: int):
    """The nearest two so far, (first, second, best, way to it, to the other), with one more."""
    first, second, best, best_x, best_y, other_x, other_y = found
    far = qx * qx + qy * qy
    if far < first:
        return far, first, at, qx, qy, best_x, best_y
    if far < second:
        return first, far, best, best_x, best_y, qx, qy
    return found


@kernel
def _nearest(
    xs: np.ndarray,
    ys: np.ndarray,
    across: np.ndarray,
    down: np.ndarray,
    margin: float,
    number: np.ndarray,
    apart: np.ndarray,
    top: int,
    end: int,
):
    """Points of the places around are weighed, and of those two places off where one of them could
    be nearer.
    """
    rows, columns = xs.shape[0] - 2 * AROUND, xs.shape[1] - 2 * AROUND
    height, width = number.shape
    wide, tall = np.float32(width / columns), np.float32(height / rows)
    per_x, per_y = np.float32(1) / wide, np.float32(1) / tall
    rim = np.float32(1 + margin)
    for y in range(top, end):
        for x in range(width):
            at_x = (x + np.float32(0.5) + across[y, x]) * per_x
            at_y = (y + np.float32(0.5) + down[y, x]) * per_y
            i, j = int(np.floor(at_x)), int(np.floor(at_y))
            within_x, within_y = at_x - np.float32(i), at_y - np.float32(j)
            column, row = i, j
            if column < 0 or column >= columns:
                column = column % columns
            if row < 0 or row >= rows:
                row = row % rows
            px, py = (column + within_x) * wide, (row + within_y) * tall
            found = FAR, FAR, 0, NOWHERE, NOWHERE, NOWHERE, NOWHERE
            for dj in range(-1, 2):
                for di in range(-1, 2):
                    qx = xs[row + dj + AROUND, column + di + AROUND] - px
                    qy = ys[row + dj + AROUND, column + di + AROUND] - py
                    found = _weighed(found, qx, qy, 8 * dj + di)
            free_x = (min(within_x, 1 - within_x) + rim) * wide
            free_y = (min(within_y, 1 - within_y) + rim) * tall
            free = min(free_x, free_y)
            if found[1] > free * free:
                for dj in range(-2, 3):
                    for di in range(-2, 3):
                        if abs(di) < 2 and abs(dj) < 2:
                            continue
                        qx = xs[row + dj + AROUND, column + di + AROUND] - px
                        qy = ys[row + dj + AROUND, column + di + AROUND] - py
                        found = _weighed(found, qx, qy, 8 * dj + di)
            first, second, best, best_x, best_y, other_x, other_y = found
            di = (best + 4) % 8 - 4
            dj = (best - di) // 8
            number[y, x] = (row + dj) % rows * columns + (column + di) % columns
            gap_x, gap_y = other_x - best_x, other_y - best_y
            between = np.sqrt(gap_x * gap_x + gap_y * gap_y)
            apart[y, x] = (second - first) / (2 * max(between, np.float32(1e-6)))


@kernel
def _read(values: np.ndarray, number: np.ndarray, out: np.ndarray, top: int, end: int):
    for n in range(values.shape[0]):
        for y in range(top, end):
            for x in range(number.shape[1]):
                out[n, y, x] = values[n, number[y, x]]
