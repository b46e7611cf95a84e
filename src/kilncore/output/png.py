"""PNG (W3C, third edition): 8 bits a channel, sRGB profile embedded, ppi in pHYs."""

from pathlib import Path

import numpy as np
import pyvips

from kilncore.units import MM_PER_INCH


def write(pixels: np.ndarray, path: Path, ppi: float) -> None:
    """pixels : (H, W, 3 or 4) uint8, straight alpha, sRGB."""
    image = as_image(pixels).copy(xres=ppi / MM_PER_INCH, yres=ppi / MM_PER_INCH)
    image.pngsave(str(path), compression=4, profile="srgb")


def encoded(pixels: np.ndarray) -> bytes:
    """PNG bytes for the screen: as fast as may be, not as small."""
    return as_image(pixels).pngsave_buffer(compression=1, filter="none")


def as_image(pixels: np.ndarray) -> pyvips.Image:
    height, width, bands = pixels.shape
    image = pyvips.Image.new_from_memory(np.ascontiguousarray(pixels).data, width, height, bands, "uchar")
    return image.copy(interpretation="srgb" if bands > 2 else "b-w")
