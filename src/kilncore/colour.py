"""Colours: hex notation, the sRGB transfer curve, luma.

Sources: CSS Color Module Level 4 (hex notation), IEC 61966-2-1 (transfer curve), ITU-R BT.709 (luma).
"""

import re
from typing import Annotated

import numpy as np
from pydantic import StringConstraints

HEX = re.compile(r"^#[0-9a-fA-F]{6}$")
HexColour = Annotated[str, StringConstraints(pattern=HEX.pattern, to_lower=True)]
BT709 = np.array([0.2126, 0.7152, 0.0722], np.float32)


def hex_to_rgb(colour: str) -> np.ndarray:
    """'#rrggbb' to three sRGB-encoded floats, 0..1."""
    return np.array([int(colour[i : i + 2], 16) for i in (1, 3, 5)], np.float32) / 255


def decode(encoded: np.ndarray) -> np.ndarray:
    """sRGB-encoded values, 0..1, to linear light."""
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)


def encode(linear: np.ndarray) -> np.ndarray:
    """Linear light, 0..1, to sRGB-encoded values."""
    return np.where(linear <= 0.0031308, linear * 12.92, 1.055 * np.maximum(linear, 0) ** (1 / 2.4) - 0.055)
