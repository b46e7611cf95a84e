"""Reading a texture that lies on a surface in perspective, while a hand moves the surface.

Of each pixel one place is read, on the copy whose px are as large as its patch (Williams 1983).
Where it lies is told at the corners of cells; between them the surface is taken as flat.
"""

from collections.abc import Callable

import numpy as np

from kilncore.compiled.kernels import inlined, kernel
from kilncore.perspective.way_back import points_back
from kilncore.textures.resample import covered, folded, weighted

CELL = 8  # px each way
FARTHEST = 1e9  # px of a texture


def coarsely_laid(
    level: Callable,
    last: int,
    size: tuple[int, int],
    way: np.ndarray,
    matrix: tuple,
    box: tuple,
    edges: int,
    unit: Callable,
) -> np.ndarray:
    """As `laid.laid`, of which it takes the same."""
    left, top, width, height = box
    columns, rows = (np.arange(-(-side // CELL) + 1) * CELL + 0.5 for side in (width, height))
    corners = np.stack(np.meshgrid(columns + left, rows + top), 2)
    flat = points_back(way, np.ascontiguousarray(corners.reshape(-1, 2)))
    flat = flat.T[:2].reshape(2, len(rows), len(columns))
    out = np.zeros((level(0).shape[0] + 1, height, width), np.float32)
    places = _places_of(flat, np.array(matrix, np.float64))
    patch = _patch_sizes(places) * (level(0).shape[2] / size[0])
    levels = np.clip(np.rint(np.log2(np.maximum(patch, 1))), 0, last).astype(np.int64)
    for number in np.unique(levels):
        planes = np.ascontiguousarray(level(int(number)))
        _add_coarsely(
            out, planes, places, levels, np.array(size, float), number, edges, unit(planes)
        )
    return np.clip(out, 0, 1, out=out)


def _places_of(flat: np.ndarray, matrix: np.ndarray) -> np.ndarray:
    """(2, H, W): where the corners of the cells lie on the texture, from its middle."""
    a, b, c, d, e, f = matrix
    return np.stack([a * flat[0] + c * flat[1] + e, b * flat[0] + d * flat[1] + f])


def _patch_sizes(places: np.ndarray) -> np.ndarray:
    """(H - 1, W - 1): px of the texture in one pixel, each way, of each cell."""
    across = (places[:, :-1, 1:] - places[:, :-1, :-1]) / CELL
    down = (places[:, 1:, :-1] - places[:, :-1, :-1]) / CELL
    area = np.abs(across[0] * down[1] - across[1] * down[0])
    return np.nan_to_num(np.sqrt(area), nan=1.0, posinf=1.0)


@kernel
def _add_coarsely(
    out: np.ndarray,
    planes: np.ndarray,
    places: np.ndarray,
    levels: np.ndarray,
    sides: np.ndarray,
    number: int,
    edges: int,
    unit: float,
):
    """Read the cells that want one copy."""
    channels, tall, wide = planes.shape
    height, width = out.shape[1:]
    sx, sy = wide / sides[0], tall / sides[1]
    wx, wy = np.empty(2, np.float32), np.empty(2, np.float32)
    columns, rows = np.empty(2, np.int64), np.empty(2, np.int64)
    for row in range(levels.shape[0]):
        for column in range(levels.shape[1]):
            if levels[row, column] != number:
                continue
            for y in range(row * CELL, min(row * CELL + CELL, height)):
                down = (y - row * CELL) / CELL
                for x in range(column * CELL, min(column * CELL + CELL, width)):
                    across = (x - column * CELL) / CELL
                    u = (_between_corners(places[0], row, column, across, down) + sides[0] / 2) * sx
                    v = (_between_corners(places[1], row, column, across, down) + sides[1] / 2) * sy
                    u, v = u - 0.5, v - 0.5
                    if not (abs(u) < FARTHEST and abs(v) < FARTHEST):
                        continue
                    i, j = int(np.floor(u)), int(np.floor(v))
                    s, t = np.float32(u - i), np.float32(v - j)
                    wx[0], wx[1], wy[0], wy[1] = np.float32(1) - s, s, np.float32(1) - t, t
                    for n in range(2):
                        columns[n], rows[n] = folded(i + n, wide, edges), folded(j + n, tall, edges)
                    for c in range(channels):
                        out[c, y, x] = unit * weighted(planes, c, rows, columns, wy, wx, 2)
                    out[channels, y, x] = covered(rows, columns, wy, wx, 2)


@inlined
def _between_corners(places: np.ndarray, row: int, column: int, across: float, down: float):
    near = places[row, column] + across * (places[row, column + 1] - places[row, column])
    far = places[row + 1, column] + across * (places[row + 1, column + 1] - places[row + 1, column])
    return near + down * (far - near)
