"""Pictures for the screen: drafts as JPEG, exact pictures and anything transparent as PNG."""

import numpy as np

from kilncore.output.png import as_image, encoded


def encode(image: np.ndarray, lossless: bool) -> tuple[bytes, str]:
    """(bytes, media type) of a straight (H, W, 4) float picture, 0..1."""
    pixels = np.rint(image * 255).astype(np.uint8)
    opaque = pixels[..., 3].min() == 255
    if opaque:
        pixels = pixels[..., :3]
    if opaque and not lossless:
        return as_image(pixels).jpegsave_buffer(Q=88, subsample_mode="off"), "image/jpeg"
    return encoded(pixels), "image/png"
