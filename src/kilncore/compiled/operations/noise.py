"""White noise, a value of its own for each pixel."""

from typing import Any

import numpy as np

from kilncore.compiled.cell_hash import cell_noise
from kilncore.compiled.kernels import floats
from kilncore.compiled.operation import Address, operation


@operation(memory="cells", positioned=True)
def cells(out: Address, descriptor: Any, x0: int, y: int, n: int):
    """Of mean 0 and spread 1, one cell to a pixel. descriptor : (first column, first row, seed)."""
    out, first, row = floats(out), np.int32(descriptor[0] + x0), np.int32(descriptor[1] + y)
    seed = np.uint32(descriptor[2])
    for x in range(n):
        out[x] = cell_noise(first + np.int32(x), row, seed)
