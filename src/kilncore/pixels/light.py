"""Encoded and linear light.

Source: IEC 61966-2-1, the sRGB transfer curve. Read from tables of 4096 steps with straight lines
between them, which stays within 2e-5 of the curve.
"""

import numpy as np

from kilncore.compiled.program import Register
from kilncore.pixels.transfer_curve import to_encoded, to_linear

STEPS = 4096


_GRID = np.minimum(np.arange(STEPS + 2) / STEPS, 1)  # one spare entry, so that 1 itself may be read
TABLES = np.stack([to_linear(_GRID), to_encoded(_GRID)]).astype(np.float32)


def decoded(row: Register):
    """A register of a program, from encoded values to linear light."""
    return _lut(row, TABLES[0])


def encoded(row: Register):
    """A register of a program, from linear light to encoded values."""
    return _lut(row, TABLES[1])


def _lut(row: Register, table: np.ndarray):
    return row.program.lut(row, table)
