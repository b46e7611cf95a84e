"""Pictures for the screen: drafts as JPEG, exact pictures and anything transparent as PNG."""

import numpy as np
import simplejpeg

from kilncore.output.png import encoded

QUALITY = 88


def encode(pixels: np.ndarray, lossless: bool) -> tuple[bytes, str]:
    """(bytes, media type) of straight (H, W, 3 or 4) uint8 pixels."""
    if lossless or pixels.shape[2] == 4:
        return encoded(pixels), "image/png"
    return simplejpeg.encode_jpeg(pixels, QUALITY, "RGB", "420"), "image/jpeg"
