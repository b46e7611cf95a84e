"""Colours: hex notation, and the weights of luma.

Sources: CSS Color Module Level 4 (hex notation), ITU-R BT.709 (luma).
"""

import re
from typing import Annotated

import numpy as np
from pydantic import StringConstraints

HEX = re.compile(r"^#[0-9a-fA-F]{6}$")
HexColour = Annotated[str, StringConstraints(pattern=HEX.pattern, to_lower=True)]
LUMA = (0.2126, 0.7152, 0.0722)
BT709 = np.array(LUMA, np.float32)


def hex_to_rgb(colour: str) -> np.ndarray:
    """'#rrggbb' to three sRGB-encoded floats, 0..1."""
    return np.array([int(colour[i : i + 2], 16) for i in (1, 3, 5)], np.float32) / 255


def rgb_to_hex(colour: list) -> str:
    """'#rrggbb' of three numbers, 0..1."""
    return "#" + "".join(f"{round(255 * float(one)):02x}" for one in colour)
