"""Noise of one level of 255, so that what is rounded to 8 bits later shows no bands."""

import numpy as np

from kilncore.compiled.cell_hash import cell_bits
from kilncore.compiled.kernels import inlined, kernel

LEVEL = 1 / 255


@inlined
def noise(i: int, j: int, seed: int) -> float:
    """Evenly spread, one level of 255 wide, around 0. i, j : a pixel, int32. seed : uint32."""
    return (cell_bits(i, j, np.uint32(seed)) * (1 / 4294967296.0) - 0.5) * LEVEL


def dithered(planes: np.ndarray, x: int, y: int, seed: int) -> np.ndarray:
    """(4, H, W) float32 premultiplied, changed where it is: its alpha with noise where it is
    neither 0 nor 1, its colour with as much noise of its own, however little it covers: it is the
    picture that it is laid on that is rounded. x, y : of its upper left pixel.
    """
    if planes.ndim != 3 or len(planes) != 4 or planes.dtype != np.float32:
        raise ValueError(f"{planes.dtype} {planes.shape} is no picture")
    _dithered(planes, x, y, np.uint32(seed))
    return planes


@kernel
def _dithered(planes: np.ndarray, left: int, top: int, seed: int):
    for y in range(planes.shape[1]):
        for x in range(planes.shape[2]):
            alpha = planes[3, y, x]
            if alpha <= 0:
                continue
            i, j = np.int32(left + x), np.int32(top + y)
            moved = alpha
            if alpha < 1:
                moved = min(max(alpha + noise(i, j, seed), 0.0), 1.0)
            for channel in range(3):
                value = planes[channel, y, x] * (moved / alpha)
                value += noise(i, j, np.uint32(seed + channel + 1))
                planes[channel, y, x] = min(max(value, 0.0), moved)
            planes[3, y, x] = moved
