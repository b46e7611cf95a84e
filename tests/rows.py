"""Running a few rows of a tape over arrays."""

import numpy as np

from kilncore.box import Box
from kilncore.rows.tape import Tape


def worked(work, *arrays) -> np.ndarray:
    """work(*rows), a row, of (H, W) arrays of one size."""
    arrays = [np.asarray(array, np.float32) for array in arrays]
    tape = Tape(Box(0, 0, arrays[0].shape[1], arrays[0].shape[0]))
    out = tape.planes((work(*(tape.load(array[None])[0] for array in arrays)),))
    tape.run()
    return out[0]
