"""OKLab: a space in which distances are about as large as they look.

Source: Ottosson, "A perceptual color space for image processing" (2020), from linear sRGB. In
distances here a and b count double: a tint on paper is seen sooner than a shade.
"""

import numpy as np

from kilncore.pixels.transfer_curve import to_linear

LMS = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)
CHROMA = 2.0  # how much more a and b count than lightness


def oklab(rgb: np.ndarray) -> np.ndarray:
    """(..., 3) float64 L, a, b of (..., 3) sRGB-encoded values, 0..1."""
    return np.cbrt(to_linear(rgb) @ LMS.T) @ LAB.T


def distance(one: np.ndarray, other: np.ndarray) -> np.ndarray:
    """Of (..., 3) sRGB-encoded colours, 0..1, in OKLab with a and b doubled; black to white is
    1.
    """
    return np.linalg.norm((oklab(one) - oklab(other)) * (1, CHROMA, CHROMA), axis=-1)
