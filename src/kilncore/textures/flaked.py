"""A mask's specks made larger or finer, before its levels.

Larger: its tones are softened, so that the levels that follow find fewer and larger specks (common
practice: blurring noise before a threshold makes them grow with the blur). Finer: what is wider
than the softness is taken out of its tones. Either way they are stretched to spread as widely as
before, so that the same levels bite.
"""

import math
from typing import Any

import numpy as np

from kilncore.blur import blur_within, reach
from kilncore.system.opencv import cv2

SOFT_ENOUGH = 2.0  # px of sigma on the copy that is softened
BAND, SAMPLED_ROWS = 256, 64
MOST_GAIN = 8.0
WIDEST = 0.6
"""Of a texture's side: a softness of so much leaves 0.1 % of its longest wave, and more is the same
mean."""


def larger(texture: Any, sigma: float, wraps: bool) -> np.ndarray:
    """(H, W) uint16, reduced where it is very soft. texture : a mask. sigma : px of its planes,
    above 0.
    """
    soft, before, _ = _softened(texture, sigma, wraps)
    middle = float(soft.mean())
    gain = _gain(before, float(soft.std()))
    return _stored(middle + (soft - middle) * gain)


def finer(texture: Any, sigma: float, share: float, wraps: bool) -> np.ndarray:
    """(H, W) uint16 at full size. share : 0..1, how much of what is wide goes."""
    soft, before, _ = _softened(texture, sigma, wraps)
    plane = texture.planes[0]
    height, width = plane.shape
    across = cv2.resize(soft, (width, soft.shape[0]), interpolation=cv2.INTER_LINEAR)
    middle = float(soft.mean())

    def rows(numbers: np.ndarray) -> np.ndarray:
        at = np.clip((numbers + 0.5) * soft.shape[0] / height - 0.5, 0, soft.shape[0] - 1)
        low = np.minimum(at.astype(np.int64), max(soft.shape[0] - 2, 0))
        part = (at - low).astype(np.float32)[:, None]
        wide = across[low] * (1 - part) + across[np.minimum(low + 1, len(across) - 1)] * part
        return plane[numbers] * np.float32(texture.unit) - np.float32(share) * (wide - middle)

    some = rows(np.unique(np.linspace(0, height - 1, SAMPLED_ROWS).astype(np.int64)))
    gain = _gain(before, float(some.std()))
    out = np.empty((height, width), np.uint16)
    for top in range(0, height, BAND):
        numbers = np.arange(top, min(top + BAND, height))
        out[numbers] = _stored(middle + (rows(numbers) - middle) * np.float32(gain))
    return out


def _softened(texture: Any, sigma: float, wraps: bool) -> tuple[np.ndarray, float, int]:
    """(tones softened on a smaller copy, their spread before, how often that is halved)."""
    most = max(0, int(math.log2(max(min(texture.planes.shape[1:]) / 16, 1))))
    number = min(max(0, math.floor(math.log2(max(sigma / SOFT_ENOUGH, 1)))), most)
    plane = texture.level(number)[0]
    tones = plane * np.float32(1 / 255 if plane.dtype == np.uint8 else 1 / 65535)
    own = math.sqrt(max(sigma * sigma - (4**number - 1) / 12, 0.01)) / 2**number
    down, across = (min(own, WIDEST * side) for side in tones.shape)
    margins = [(reach(one),) * 2 for one in (down, across)]
    padded = np.pad(tones, margins, mode="wrap" if wraps else "edge")
    spread = float(texture.level(0)[0][:: max(texture.level(0).shape[1] // 64, 1)].std())
    return blur_within(padded[None], across, down)[0], spread * texture.unit, number


def _gain(before: float, after: float) -> float:
    return min(max(before / max(after, 1e-4), 1.0), MOST_GAIN)


def _stored(tones: np.ndarray) -> np.ndarray:
    return np.rint(np.clip(tones, 0, 1) * np.float32(65535)).astype(np.uint16)
