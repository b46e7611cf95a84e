"""A mask's tones through levels, and their squares, as means of blocks: what a draft averages.

A threshold and a mean do not change places, so that every new setting of the levels takes all of a
mask anew. Here that is one pass over its tones as they are stored, with nothing in between written
down: about 1 ns a tone.
"""

import numpy as np

from kilncore.compiled.kernels import inlined, kernel
from kilncore.textures.copies import unit_of


def toned_blocks(
    tones: np.ndarray, black: float, gamma: float, white: float, folds: int = 0
) -> np.ndarray:
    """(2, H / 2^folds, W / 2^folds) uint16: the means of the tones through levels, and of their
    squares, of blocks of 2^folds px each way.

    tones : (H, W) uint8 or uint16, whose sides are multiples of 2^folds. black, gamma, white : as
    `masks.levels` takes them.
    """
    if tones.shape[0] % 2**folds or tones.shape[1] % 2**folds:
        raise ValueError(f"{tones.shape} px are no whole blocks of {2**folds}")
    points = (black, 1 / max(white - black, 1e-6), 1 / gamma)
    unit, *levels = (np.float32(one) for one in (unit_of(tones), *points))
    return _toned_blocks(np.ascontiguousarray(tones), unit, *levels, 2**folds)


def most_folds(tones: np.ndarray, wanted: int) -> int:
    """How often the sides of (H, W) tones can be halved without a rest, at most `wanted`."""
    height, width = tones.shape
    folds = 0
    while folds < wanted and not (height % 2 ** (folds + 1) or width % 2 ** (folds + 1)):
        folds += 1
    return folds


@kernel
def _toned_blocks(
    tones: np.ndarray, unit: float, black: float, slope: float, power: float, side: int
):
    height, width = tones.shape[0] // side, tones.shape[1] // side
    out = np.empty((2, height, width), np.uint16)
    line, means = np.empty(width * side, np.float32), np.empty(width * side, np.float32)
    squares = np.empty(width * side, np.float32)
    full = np.float32(65535) / np.float32(side * side)
    for y in range(height):
        means[:] = np.float32(0)
        squares[:] = np.float32(0)
        for n in range(side):
            row = tones[y * side + n]
            for x in range(line.size):
                value = (np.float32(row[x]) * unit - black) * slope
                line[x] = min(max(np.float32(0), value), np.float32(1))
            if power != np.float32(1):
                for x in range(line.size):
                    line[x] = line[x] ** power
            for x in range(line.size):
                means[x] += line[x]
                squares[x] += line[x] * line[x]
        _stored(means, side, full, out[0, y])
        _stored(squares, side, full, out[1, y])
    return out


@inlined
def _stored(sums: np.ndarray, side: int, full: float, out: np.ndarray):
    while side > 1:
        side //= 2
        for x in range(out.size * side):
            sums[x] = sums[2 * x] + sums[2 * x + 1]
    for x in range(out.size):
        out[x] = np.uint16(sums[x] * full + np.float32(0.5))
