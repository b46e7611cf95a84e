"""Cells around points that are strewn evenly: what cracks, flakes and stones are made of. They wrap
at the edges.

Method: Worley, A cellular texture basis function, 1996.
"""

from dataclasses import dataclass

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.halves import by_rows

AROUND = 2  # places to each side that may be nearest
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
    for y in range(top, end):
        for x in range(width):
            px, py = x + np.float32(0.5) + across[y, x], y + np.float32(0.5) + down[y, x]
            i, j = int(np.floor(px / wide)), int(np.floor(py / tall))
            column, row = i % columns, j % rows
            px -= (i - column) * wide
            py -= (j - row) * tall
            within_x, within_y = px / wide - column, py / tall - row
            free = min(
                (min(within_x, 1 - within_x) + 1 + margin) * wide,
                (min(within_y, 1 - within_y) + 1 + margin) * tall,
            )
            first = second = np.float32(1e30)
            best = 0
            best_x = best_y = other_x = other_y = np.float32(0)
            for ring in range(1, 3):
                if ring == 2 and second <= free * free:
                    break
                for dj in range(-ring, ring + 1):
                    for di in range(-ring, ring + 1):
                        if ring == 2 and abs(di) < 2 and abs(dj) < 2:
                            continue
                        at_row, at = row + dj + AROUND, column + di + AROUND
                        qx, qy = xs[at_row, at] - px, ys[at_row, at] - py
                        far = qx * qx + qy * qy
                        if far < first:
                            second, other_x, other_y = first, best_x, best_y
                            first, best_x, best_y = far, qx, qy
                            best = (row + dj) % rows * columns + (column + di) % columns
                        elif far < second:
                            second, other_x, other_y = far, qx, qy
            number[y, x] = best
            between = np.sqrt((other_x - best_x) ** 2 + (other_y - best_y) ** 2)
            apart[y, x] = (second - first) / (2 * max(between, np.float32(1e-6)))
