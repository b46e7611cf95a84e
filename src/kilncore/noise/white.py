"""Noise that is a function of a cell and a seed: the same for any picture, any tile, any number of
threads.

Cells of one pixel are taken as they are; larger ones are read between four of them, with the spread
brought back to 1.
"""

import numpy as np

from kilncore.compiled.cell_hash import cell_noise
from kilncore.compiled.kernels import kernel


def white_noise(
    matrix: tuple[float, ...],
    left: int,
    top: int,
    width: int,
    height: int,
    seed: int,
    smooth: bool,
    places: int = 1,
) -> np.ndarray:
    """(height, width) float32 of mean 0 and spread 1; less where a pixel is the mean of several
    places.

    matrix : (a, b, c, d, e, f), output pixel index to cells, u = a x + c y + e, v = b x + d y + f.
    smooth : read between the cells, or take the one that a place lies in. places : read places x
    places in each pixel.
    """
    return _noise(
        *(float(n) for n in matrix), left, top, width, height, np.uint32(seed), smooth, places
    )


@kernel
def _noise(a, b, c, d, e, f, left, top, width, height, seed, smooth, places):
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
            i, j = np.floor(u), np.floor(v)
            m, n = np.int32(i), np.int32(j)
            if smooth:
                s, t = np.float32(u - i), np.float32(v - j)
                p, q = np.float32(1) - s, np.float32(1) - t
                near = p * cell_noise(m, n, seed) + s * cell_noise(m + 1, n, seed)
                far = p * cell_noise(m, n + 1, seed) + s * cell_noise(m + 1, n + 1, seed)
                out[y, x] += (
                    share * (q * near + t * far) / np.sqrt((p * p + s * s) * (q * q + t * t))
                )
            else:
                out[y, x] += share * cell_noise(m, n, seed)
    return out
