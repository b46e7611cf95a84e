"""Cells around points that are strewn evenly: what cracks, flakes and stones are made of. They wrap
at the edges.

Method: Worley, A cellular texture basis function, 1996.
"""

from dataclasses import dataclass

import numpy as np

from kilncore.compiled.kernels import kernel

JITTER = 0.86  # of a place of the grid: how far a point may lie from its middle


@dataclass(frozen=True)
class Cells:
    """number : (H, W) int32, of the cell that a px lies in. apart : (H, W) float32 px, 0 on the
    border of two cells. xs, ys : of each cell's point.
    """

    number: np.ndarray
    apart: np.ndarray
    xs: np.ndarray
    ys: np.ndarray


def cells(
    rng: np.random.Generator,
    width: int,
    height: int,
    size: float,
    across: np.ndarray,
    down: np.ndarray,
) -> Cells:
    """Of about that size, px. across, down : (H, W) float32 px, by which each px is shifted, so
    that borders are not straight.
    """
    columns, rows = max(2, round(width / size)), max(2, round(height / size))
    places = np.indices((rows, columns)) + 0.5 + JITTER * (rng.random((2, rows, columns)) - 0.5)
    ys, xs = places[0] * (height / rows), places[1] * (width / columns)
    number, apart = _nearest(xs, ys, width, height, across, down)
    return Cells(number, apart, xs.ravel(), ys.ravel())


@kernel
def _nearest(
    xs: np.ndarray, ys: np.ndarray, width: int, height: int, across: np.ndarray, down: np.ndarray
):
    rows, columns = xs.shape
    number = np.empty((height, width), np.int32)
    apart = np.empty((height, width), np.float32)
    wide, tall = width / columns, height / rows
    for y in range(height):
        for x in range(width):
            px, py = x + 0.5 + across[y, x], y + 0.5 + down[y, x]
            i, j = int(np.floor(px / wide)), int(np.floor(py / tall))
            first, second, best, other_x, other_y, best_x, best_y = (
                1e30,
                1e30,
                0,
                0.0,
                0.0,
                0.0,
                0.0,
            )
            for dj in range(-2, 3):
                for di in range(-2, 3):
                    column, row = (i + di) % columns, (j + dj) % rows
                    # where that point's copy nearest to here lies
                    qx = xs[row, column] + (i + di - column) * wide - px
                    qy = ys[row, column] + (j + dj - row) * tall - py
                    far = qx * qx + qy * qy
                    if far < first:
                        second, other_x, other_y = first, best_x, best_y
                        first, best, best_x, best_y = far, row * columns + column, qx, qy
                    elif far < second:
                        second, other_x, other_y = far, qx, qy
            number[y, x] = best
            between = np.sqrt((other_x - best_x) ** 2 + (other_y - best_y) ** 2)
            apart[y, x] = (second - first) / (2 * max(between, 1e-6))
    return number, apart
