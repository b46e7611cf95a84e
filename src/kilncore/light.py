"""Encoded and linear light.

Source: IEC 61966-2-1, the sRGB transfer curve. Read from tables of 4096 steps with straight lines between them, which
stays within 2e-5 of the curve.
"""

import numpy as np

from kilncore.kernels import part

STEPS = 4096


def to_linear(encoded):
    """sRGB-encoded 0..1 to linear light, by the formula."""
    encoded = np.asarray(encoded, np.float64)
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)


def to_encoded(linear):
    """Linear light 0..1 to sRGB-encoded, by the formula."""
    linear = np.asarray(linear, np.float64)
    return np.where(linear <= 0.0031308, linear * 12.92, 1.055 * np.maximum(linear, 0) ** (1 / 2.4) - 0.055)


_GRID = np.minimum(np.arange(STEPS + 2) / STEPS, 1)  # one spare entry, so that 1 itself may be read
TABLES = np.stack([to_linear(_GRID), to_encoded(_GRID)]).astype(np.float32)
DECODING, ENCODING = 0, 1


@part
def look_up(row, table):
    """Bring a row through TABLES[DECODING] or TABLES[ENCODING], in place."""
    for x in range(row.size):
        at = min(max(row[x], np.float32(0)), np.float32(1)) * np.float32(STEPS)
        i = np.int32(at)
        row[x] = table[i] + (at - np.float32(i)) * (table[i + 1] - table[i])
