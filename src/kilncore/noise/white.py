"""Noise that is a function of a cell and a seed: the same for any picture, any tile, any number of
threads.

Cells of one pixel are taken as they are; larger ones are read between four of them, with the spread
brought back to 1.
"""

import numpy as np

from kilncore.compiled.cell_hash import cell_noise
from kilncore.compiled.kernels import kernel, subroutine
from kilncore.perspective.projection import Projection
from kilncore.perspective.way_back import back

LAID_PLACES = 3
MOST = 2.0**30  # cells: their numbers are of 32 bits


def white_noise(
    matrix: tuple[float, ...],
    left: int,
    top: int,
    width: int,
    height: int,
    seed: int,
    smooth: bool,
    places: int = 1,
    projection: Projection | None = None,
) -> np.ndarray:
    """(height, width) float32 of mean 0 and spread 1; less where a pixel is the mean of several
    places.

    matrix : (a, b, c, d, e, f), output pixel index to cells, u = a x + c y + e, v = b x + d y + f.
    smooth : read between the cells, or take the one that a place lies in. places : read places x
    places in each pixel. projection : of what the cells lie on, from flat output px: they are read
    at 3 x 3 places or more, since far away many lie in one pixel.
    """
    if projection is not None:
        box = left, top, width, height
        cells = np.array(matrix, np.float64)
        return _laid_noise(
            projection.back, cells, *box, np.uint32(seed), smooth, max(places, LAID_PLACES)
        )
    return _noise(
        *(float(n) for n in matrix), left, top, width, height, np.uint32(seed), smooth, places
    )


@subroutine
def _cell(u: float, v: float, seed: int, smooth: float):
    """Of a place, in cells."""
    i, j = np.floor(u), np.floor(v)
    m, n = np.int32(i), np.int32(j)
    if not smooth:
        return cell_noise(m, n, seed)
    s, t = np.float32(u - i), np.float32(v - j)
    p, q = np.float32(1) - s, np.float32(1) - t
    near = p * cell_noise(m, n, seed) + s * cell_noise(m + 1, n, seed)
    far = p * cell_noise(m, n + 1, seed) + s * cell_noise(m + 1, n + 1, seed)
    return np.float32((q * near + t * far) / np.sqrt((p * p + s * s) * (q * q + t * t)))


@kernel
def _laid_noise(
    way: int,
    cells: tuple,
    left: int,
    top: int,
    width: int,
    height: int,
    seed: int,
    smooth: float,
    places: int,
):
    a, b, c, d, e, f = cells
    out = np.zeros((height, width), np.float32)
    share = np.float32(1 / (places * places))
    for y in range(height):
        for x in range(width):
            total = np.float32(0)
            for place in range(places * places):
                across, down = (place % places + 0.5) / places, (place // places + 0.5) / places
                u, v, _ = back(way, left + x + across, top + y + down)
                u, v = u - 0.5, v - 0.5
                u, v = a * u + c * v + e, b * u + d * v + f
                u, v = min(max(-MOST, u), MOST), min(max(-MOST, v), MOST)
                total += _cell(u, v, seed, smooth)
            out[y, x] = share * total
    return out


@kernel
def _noise(
    a: float,
    b: float,
    c: float,
    d: float,
    e: float,
    f: float,
    left: int,
    top: int,
    width: int,
    height: int,
    seed: int,
    smooth: float,
    places: int,
):
    out = np.zeros((height, width), np.float32)
    share = np.float32(1 / (places * places))
    for place in range(places * places * height):
        y, place = place // (places * places), place % (places * places)
        px, py = (
            left + (place % places + 0.5) / places - 0.5,
            top + (place // places + 0.5) / places - 0.5,
        )
        for x in range(width):
            u, v = a * (x + px) + c * (y + py) + e, b * (x + px) + d * (y + py) + f
            out[y, x] += share * _cell(u, v, seed, smooth)
    return out
