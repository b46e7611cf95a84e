"""Arrays as images of libvips, which reads and writes all files."""

import numpy as np
import pyvips

pyvips.cache_set_max(0)  # operations on files that come once are not worth remembering


def as_image(pixels: np.ndarray) -> pyvips.Image:
    """(H, W, C) uint8 or uint16, C = 1, 3 or 4, as an image. It shares the array's memory."""
    height, width, bands = pixels.shape
    kind = "ushort" if pixels.dtype == np.uint16 else "uchar"
    image = pyvips.Image.new_from_memory(
        np.ascontiguousarray(pixels).data, width, height, bands, kind
    )
    deep = pixels.dtype == np.uint16
    colour = ("rgb16" if deep else "srgb") if bands > 2 else ("grey16" if deep else "b-w")
    return image.copy(interpretation=colour)


def from_bytes(content: bytes) -> pyvips.Image:
    """A picture that this program wrote itself; what comes from outside is read by a child."""
    return pyvips.Image.new_from_buffer(content, "")
