"""The luma of stored planes, in whole numbers."""

import numpy as np

from kilncore.pixels.colour import BT709


def luminance_rows(planes: np.ndarray) -> np.ndarray:
    """(H, W) luma of (C, H, W) planes: grey as it is, colour in 16 bits, floats as floats."""
    if len(planes) == 1:
        return planes[0]
    if planes.dtype.kind == "f":
        return np.tensordot(BT709, planes[:3], 1)
    weights = BT709 * (257 if planes.dtype == np.uint8 else 1)
    luma = np.empty(planes.shape[1:], np.uint16)
    for row, out in zip(np.moveaxis(planes[:3], 1, 0), luma, strict=True):
        out[:] = np.rint(weights @ row)
    return luma
