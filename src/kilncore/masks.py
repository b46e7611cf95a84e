"""A picture read as a mask.

Source: W3C CSS Masking Level 1 (luminance masks) with the BT.709 coefficients on sRGB-encoded values.
White reveals, black conceals (common practice).
"""

import numpy as np

from kilncore.colour import BT709
from kilncore.kernels import kernel
from kilncore.planes import checked


def luminance(image: np.ndarray) -> np.ndarray:
    """(H, W, 4) straight picture to an (H, W) float32 mask, 0..1: luma times alpha."""
    image = checked(image)
    return (image[..., :3] @ BT709) * image[..., 3]


def luma(planes: np.ndarray) -> np.ndarray:
    """The same of a premultiplied (4, H, W) picture: luma times alpha is the luma of premultiplied colour."""
    return np.tensordot(BT709, planes[:3], axes=1)


@kernel
def levels(values, black, gamma, white):
    """Tones at or below `black` become 0, at or above `white` 1; gamma bends what lies between.

    values : (H, W) float32, 0..1. black, white : 0..1; equal, they make a threshold. gamma : above 0, 1 is straight.
    Source: the levels adjustment, common practice: ((v - black) / (white - black)) ** (1 / gamma).
    """
    out = np.empty_like(values)
    span = max(white - black, np.float32(1e-6))
    power = 1 / gamma
    for y in range(values.shape[0]):
        for x in range(values.shape[1]):
            t = min(max((values[y, x] - black) / span, np.float32(0)), np.float32(1))
            out[y, x] = t if power == 1 else t**power
    return out
