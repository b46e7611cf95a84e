"""Pictures for the screen: drafts as JPEG, exact pictures and anything transparent as PNG."""

import numpy as np
import simplejpeg

from kilncore.pixels.vips import as_image

QUALITY = 88


def encode(pixels: np.ndarray, lossless: bool) -> tuple[bytes, str]:
    """(bytes, media type) of straight (H, W, 3 or 4) uint8 pixels."""
    if lossless or pixels.shape[2] == 4:
        return as_image(pixels).pngsave_buffer(
            compression=1, filter="sub", keep="none"
        ), "image/png"
    return simplejpeg.encode_jpeg(pixels, QUALITY, "RGB", "420"), "image/jpeg"
