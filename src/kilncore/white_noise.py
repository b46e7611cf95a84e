"""Noise that is a function of a cell and a seed: the same for any picture, any tile, any number of threads.

A 32-bit hash of the cell, whose four bytes are added up: their sum is nearly normal, and a cubic term (after Cornish and
Fisher 1938) brings its tails to those of the normal distribution. Arithmetic alone, for reading a table of values takes
longer than all the rest. Cells of one pixel are taken as they are; larger ones are read between four of them, with the
spread brought back to 1.
Hash: two rounds of multiply and shift over the mixed coordinates (the common finalizer of 32-bit hashes, from memory).
"""

import math

import numpy as np

from kilncore.kernels import floats, inlined, kernel, part

MIDDLE = np.int32(4 * 255 // 2)
_SPREAD = math.sqrt(4 * (256**2 - 1) / 12)  # of the sum of four bytes
_CUBIC, _AFTER = 0.01855, 0.99506  # z + _CUBIC (z^3 - 3 z) has a kurtosis of 3, and this spread
STRAIGHT, CUBED = np.float32((1 - 3 * _CUBIC) / _SPREAD / _AFTER), np.float32(_CUBIC / _SPREAD**3 / _AFTER)


def white_noise(matrix, left: int, top: int, width: int, height: int, seed: int, smooth: bool, places: int = 1) -> np.ndarray:
    """(height, width) float32 of mean 0 and spread 1; less where a pixel is the mean of several places.

    matrix : (a, b, c, d, e, f), output pixel index to cells, u = a x + c y + e, v = b x + d y + f.
    smooth : read between the cells, or take the one that a place lies in. places : read places x places in each pixel.
    """
    return _noise(*(float(n) for n in matrix), left, top, width, height, np.uint32(seed), smooth, places)


@inlined
def _cell(i, j, seed):
    h = np.uint32(np.uint32(i) * np.uint32(0x8DA6B343)) ^ np.uint32(np.uint32(j) * np.uint32(0xD8163841)) ^ seed
    h = np.uint32(h ^ (h >> np.uint32(16)))
    h = np.uint32(h * np.uint32(0x7FEB352D))
    h = np.uint32(h ^ (h >> np.uint32(15)))
    h = np.uint32(h * np.uint32(0x846CA68B))
    h = np.uint32(h ^ (h >> np.uint32(16)))
    low, high, byte = np.uint32(0x00FF00FF), np.uint32(8), np.uint32(0x3FF)
    pairs = np.uint32(np.uint32(h & low) + np.uint32(np.uint32(h >> high) & low))
    z = np.float32(np.int32(np.uint32(pairs & byte) + np.uint32(pairs >> np.uint32(16))) - MIDDLE)
    return z * (STRAIGHT + CUBED * z * z)


@kernel
def _noise(a, b, c, d, e, f, left, top, width, height, seed, smooth, places):
    out = np.zeros((height, width), np.float32)
    share = np.float32(1 / (places * places))
    for place in range(places * places * height):
        y, place = place // (places * places), place % (places * places)
        px, py = left + (place % places + 0.5) / places - 0.5, top + (place // places + 0.5) / places - 0.5
        for x in range(width):
            u, v = a * (x + px) + c * (y + py) + e, b * (x + px) + d * (y + py) + f
            i, j = np.floor(u), np.floor(v)
            m, n = np.int32(i), np.int32(j)
            if smooth:
                s, t = np.float32(u - i), np.float32(v - j)
                p, q = np.float32(1) - s, np.float32(1) - t
                near = p * _cell(m, n, seed) + s * _cell(m + 1, n, seed)
                far = p * _cell(m, n + 1, seed) + s * _cell(m + 1, n + 1, seed)
                out[y, x] += share * (q * near + t * far) / np.sqrt((p * p + s * s) * (q * q + t * t))
            else:
                out[y, x] += share * _cell(m, n, seed)
    return out


@part
def cells(out, place, x0, y, n):
    """A row of whole cells, one to a pixel. place : (first column, first row, seed)."""
    out, first, row, seed = floats(out), np.int32(place[0] + x0), np.int32(place[1] + y), np.uint32(place[2])
    for x in range(n):
        out[x] = _cell(first + np.int32(x), row, seed)
