"""How often each tone occurs."""

import numpy as np

from kilncore.textures.texture import Texture


def histogram(texture: Texture) -> list[int]:
    """Counts of the 256 tones of a texture read as a mask."""
    planes = texture.luminance.planes
    return np.bincount((planes >> (8 * (planes.itemsize - 1))).ravel(), minlength=256).tolist()


def coverage(counts: list[int]) -> float:
    """The share of a texture that is darker than middle grey, 0..1: what it would take away as a mask."""
    return sum(counts[:128]) / max(sum(counts), 1)
