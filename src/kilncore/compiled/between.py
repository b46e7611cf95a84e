"""Reading a plane between its values by straight lines."""

import numpy as np

from kilncore.compiled.kernels import rounded


@rounded
def read_between(
    values: np.ndarray,
    rows: tuple[np.ndarray, np.ndarray],
    down: np.ndarray,
    columns: tuple[np.ndarray, np.ndarray],
    across: np.ndarray,
    unit: np.float32,
):
    """(h, w) float32, times a unit, of (H, W) float32. rows, columns : the two neighbours of each
    pixel of the result, inside the plane. down, across : the share of the second.
    """
    out = np.empty((len(down), len(across)), np.float32)
    line, one = np.empty(values.shape[1], np.float32), np.float32(1)
    for y in range(len(down)):
        upper, lower, share = rows[0][y], rows[1][y], down[y]
        for x in range(values.shape[1]):
            line[x] = values[upper, x] * (one - share) + values[lower, x] * share
        for x in range(len(across)):
            share = across[x]
            left, right = line[columns[0][x]], line[columns[1][x]]
            out[y, x] = (left * (one - share) + right * share) * unit
    return out
