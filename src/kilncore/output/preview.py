"""Pictures for the screen: drafts as JPEG, exact pictures and anything transparent as PNG."""

import numpy as np
import simplejpeg

from kilncore.output.png import encoded
from kilncore.planes import from_planes, to_planes
from kilncore.reduce import resized

QUALITY = 88


def encode(pixels: np.ndarray, lossless: bool) -> tuple[bytes, str]:
    """(bytes, media type) of straight (H, W, 3 or 4) uint8 pixels."""
    if lossless or pixels.shape[2] == 4:
        return encoded(pixels), "image/png"
    return simplejpeg.encode_jpeg(pixels, QUALITY, "RGB", "420"), "image/jpeg"


def fitted(pixels: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """(H, W, 3 or 4) uint8 made smaller to fit (width, height), by area average."""
    height, width, channels = pixels.shape
    ratio = min(1.0, size[0] / width, size[1] / height)
    if ratio == 1:
        return pixels
    size = max(1, round(width * ratio)), max(1, round(height * ratio))
    if channels == 3:
        return _bytes(resized(np.ascontiguousarray(np.moveaxis(pixels, 2, 0)), *size).transpose(1, 2, 0))
    return _bytes(from_planes(resized(to_planes(pixels / np.float32(255)), *size)) * np.float32(255))


def _bytes(values: np.ndarray) -> np.ndarray:
    return np.ascontiguousarray(np.rint(values).astype(np.uint8))
