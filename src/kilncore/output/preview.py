"""Pictures for the screen: drafts as JPEG, exact pictures and anything transparent as PNG."""

import numpy as np
import simplejpeg

from kilncore.output.png import encoded

QUALITY = 88


def encode(pixels: np.ndarray, opaque: bool, lossless: bool) -> tuple[bytes, str]:
    """(bytes, media type) of straight (H, W, 4) uint8 pixels."""
    if not opaque:
        return encoded(pixels), "image/png"
    pixels = np.ascontiguousarray(pixels[..., :3])
    if lossless:
        return encoded(pixels), "image/png"
    return simplejpeg.encode_jpeg(pixels, QUALITY, "RGB", "420"), "image/jpeg"
