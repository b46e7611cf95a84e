"""A random value for each cell of a grid, by arithmetic alone: reading a table of values takes
longer than all the rest.

A 32-bit hash of the cell, whose four bytes are added up: their sum is nearly normal, and a cubic
term (after Cornish and Fisher 1938) brings its tails to those of the normal distribution. Hash: two
rounds of multiply and shift over the mixed coordinates (the common finalizer of 32-bit hashes, from
memory).
"""

import math

import numpy as np

from kilncore.compiled.kernels import inlined

MIDDLE = np.int32(4 * 255 // 2)
_SPREAD = math.sqrt(4 * (256**2 - 1) / 12)  # of the sum of four bytes
_CUBIC, _AFTER = 0.01855, 0.99506  # z + _CUBIC (z^3 - 3 z) has a kurtosis of 3, and this spread
STRAIGHT, CUBED = (
    np.float32((1 - 3 * _CUBIC) / _SPREAD / _AFTER),
    np.float32(_CUBIC / _SPREAD**3 / _AFTER),
)


@inlined
def cell_bits(i: int, j: int, seed: int):
    """32 bits. i, j : the cell, int32. seed : uint32."""
    h = (
        np.uint32(np.uint32(i) * np.uint32(0x8DA6B343))
        ^ np.uint32(np.uint32(j) * np.uint32(0xD8163841))
        ^ seed
    )
    h = np.uint32(h ^ (h >> np.uint32(16)))
    h = np.uint32(h * np.uint32(0x7FEB352D))
    h = np.uint32(h ^ (h >> np.uint32(15)))
    h = np.uint32(h * np.uint32(0x846CA68B))
    return np.uint32(h ^ (h >> np.uint32(16)))


@inlined
def cell_noise(i: int, j: int, seed: int):
    """Of mean 0 and spread 1. i, j : the cell, int32. seed : uint32."""
    h = cell_bits(i, j, seed)
    low, high, byte = np.uint32(0x00FF00FF), np.uint32(8), np.uint32(0x3FF)
    pairs = np.uint32(np.uint32(h & low) + np.uint32(np.uint32(h >> high) & low))
    z = np.float32(np.int32(np.uint32(pairs & byte) + np.uint32(pairs >> np.uint32(16))) - MIDDLE)
    return z * (STRAIGHT + CUBED * z * z)
