"""The least visible path through the difference of two pictures that lie over each other.

Source: Efros and Freeman, Image quilting for texture synthesis and transfer (SIGGRAPH 2001): a cut
from top to bottom, one px in every row, that moves by one px at most from row to row, along which
the squared differences add up to least.
"""

import numpy as np

from kilncore.compiled.kernels import kernel

FAR = 1e30


def open_cut(cost: np.ndarray) -> np.ndarray:
    """(H,) int32 columns of the least path through (H, W) float32 costs."""
    return _cut(np.ascontiguousarray(cost, np.float32), -1)


def closed_cut(cost: np.ndarray) -> np.ndarray:
    """The same, of a path that ends where it begins, so that it can be repeated: its place in the
    first row is that of the least path over the costs twice over, half way down.
    """
    cost = np.ascontiguousarray(cost, np.float32)
    at = int(_cut(np.concatenate([cost, cost]), -1)[len(cost)])
    return _cut(cost, at)


@kernel
def _cut(cost: np.ndarray, tied: int):
    """tied : the column at which the path begins and ends, -1 for any."""
    height, width = cost.shape
    total = np.empty((height, width), np.float64)
    for x in range(width):
        total[0, x] = cost[0, x] if tied < 0 or x == tied else FAR
    for y in range(1, height):
        for x in range(width):
            best = total[y - 1, x]
            if x > 0 and total[y - 1, x - 1] < best:
                best = total[y - 1, x - 1]
            if x + 1 < width and total[y - 1, x + 1] < best:
                best = total[y - 1, x + 1]
            total[y, x] = best + cost[y, x]
    path = np.empty(height, np.int32)
    at = max(tied, 0)
    if tied < 0:
        for x in range(1, width):
            if total[height - 1, x] < total[height - 1, at]:
                at = x
    else:  # the last row lies beside the first one
        for x in range(max(0, tied - 1), min(width, tied + 2)):
            if total[height - 1, x] < total[height - 1, at]:
                at = x
    path[height - 1] = at
    for y in range(height - 2, -1, -1):
        best = at
        if at > 0 and total[y, at - 1] < total[y, best]:
            best = at - 1
        if at + 1 < width and total[y, at + 1] < total[y, best]:
            best = at + 1
        at = best
        path[y] = at
    return path
