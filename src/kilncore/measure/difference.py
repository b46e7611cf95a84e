"""What changed between two pictures, pixel by pixel: how much, and over how many pixels."""

from dataclasses import dataclass

import numpy as np

from kilncore.errors import KilnError


@dataclass(frozen=True)
class Difference:
    """change : (H, W) float32, 0..1, the largest of the channels, alpha among them, premultiplied.
    share : of the pixels that changed by at least one level of 255. mean, most : of those, 0..1.
    """

    change: np.ndarray
    share: float
    mean: float
    most: float


def difference(before: np.ndarray, after: np.ndarray) -> Difference:
    """How much two pictures differ.

    Parameters
    ----------
    before, after : (H, W, 3) or (H, W, 4) uint8 array
        Straight, of one size; three channels are opaque.

    Returns
    -------
    Difference
        Where, how much, and of how many pixels.

    Raises
    ------
    KilnError
        For pictures of different sizes.
    """
    if before.shape[:2] != after.shape[:2]:
        raise KilnError("The two versions have different sizes: they cannot be laid over another.")
    change = np.abs(_premultiplied(after) - _premultiplied(before)).max(2)
    changed = change >= 0.999 / 255
    values = change[changed]
    mean, most = (float(values.mean()), float(values.max())) if values.size else (0.0, 0.0)
    share = float(changed.mean()) if changed.size else 0.0
    return Difference(change, share, mean, most)


def _premultiplied(pixels: np.ndarray) -> np.ndarray:
    alpha = pixels[..., 3:] / np.float32(255) if pixels.shape[2] == 4 else np.float32(1)
    colour = pixels[..., :3] / np.float32(255) * alpha
    shown = np.broadcast_to(alpha, (*pixels.shape[:2], 1))
    return np.concatenate([colour, shown], 2)
