"""Pictures as they go to browsers, kept as bytes by their keys."""

import numpy as np

from kilncore.output.preview import encode
from kilncore.pixels.stored import straight
from kilncore.pixels.vips import as_image, from_bytes
from kilncore.system.budget import budget_of
from kilncore.system.cache import ByteCache

PICTURES = ByteCache(
    budget_of("pictures")
)  # by (owner, key) where a key can be asked for: nobody finds another one's


def png_of(planes: np.ndarray) -> bytes:
    """PNG of planes as textures keep them: straight, eight bits of each."""
    colours, alpha = straight(planes)
    whole = colours if alpha is None else np.concatenate([colours, alpha[None]])
    eight = whole if whole.dtype == np.uint8 else (whole >> 8).astype(np.uint8)
    return as_image(np.ascontiguousarray(np.moveaxis(eight, 0, 2))).pngsave_buffer(compression=2)


def draft(pixels: np.ndarray) -> tuple[bytes, str]:
    """(bytes, media type) of straight (H, W, 3 or 4) uint8 pixels, small rather than exact."""
    return encode(pixels, lossless=False)


def pixels_of(content: bytes) -> np.ndarray:
    """(H, W, 3) uint8 of a picture of ours, without its alpha."""
    return from_bytes(content).numpy()[..., :3]
