"""Pictures as they go to browsers, kept as bytes by their keys."""

import numpy as np

from kilncore.output.preview import encode
from kilncore.system.cache import ByteCache

PICTURES = ByteCache(
    budget=128 * 2**20
)  # by (owner, key) where a key can be asked for: nobody finds another one's


def draft(pixels: np.ndarray) -> tuple[bytes, str]:
    """(bytes, media type) of straight (H, W, 3 or 4) uint8 pixels, small rather than exact."""
    return encode(pixels, lossless=False)
