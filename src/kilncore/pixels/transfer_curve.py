"""The sRGB transfer curve, by its formula. Source: IEC 61966-2-1."""

import numpy as np


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
