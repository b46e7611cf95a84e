"""Encoded and linear light.

Source: IEC 61966-2-1, the sRGB transfer curve. Read from tables of 4096 steps with straight lines
between them, which stays within 2e-5 of the curve.
"""

import numpy as np

from kilncore.compiled.program import Register

STEPS = 4096


def to_linear(encoded: np.ndarray | float):
    """sRGB-encoded 0..1 to linear light, by the formula."""
    encoded = np.asarray(encoded, np.float64)
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)


def to_encoded(linear: np.ndarray | float):
    """Linear light 0..1 to sRGB-encoded, by the formula."""
    linear = np.asarray(linear, np.float64)
    return np.where(
        linear <= 0.0031308, linear * 12.92, 1.055 * np.maximum(linear, 0) ** (1 / 2.4) - 0.055
    )


_GRID = np.minimum(np.arange(STEPS + 2) / STEPS, 1)  # one spare entry, so that 1 itself may be read
TABLES = np.stack([to_linear(_GRID), to_encoded(_GRID)]).astype(np.float32)


def decoded(row: Register):
    """A register of a program, from encoded values to linear light."""
    return _lut(row, TABLES[0])


def encoded(row: Register):
    """A register of a program, from linear light to encoded values."""
    return _lut(row, TABLES[1])


def _lut(row, table):
    return row.program.lut(row, table)
