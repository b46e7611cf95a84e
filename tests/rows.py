"""Running a few registers of a program over arrays."""

import numpy as np

from kilncore.compiled.program import Program
from kilncore.geometry.box import Box


def worked(work, *arrays) -> np.ndarray:
    """work(*rows), a row, of (H, W) arrays of one size."""
    arrays = [np.asarray(array, np.float32) for array in arrays]
    program = Program(Box(0, 0, arrays[0].shape[1], arrays[0].shape[0]))
    out = program.planes((work(*(program.load(array[None])[0] for array in arrays)),))
    program.run()
    return out[0]
