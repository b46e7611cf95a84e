"""How a result meets what it lands on: paint, cover, remake, in one pass each.

All pictures are (4, H, W) float32, premultiplied. `weight` is 0..1, a number or an (H, W) array.
Sources: W3C Compositing and Blending Level 1 (source-over, source-atop with blending); the rest is fixed in
docs/engine.md.
"""

import numpy as np

from kilncore.kernels import kernel
from kilncore.modes import mode_named
from kilncore.planes import straight_colour


def paint(backdrop, source, mode="normal", weight=1.0, kept_to_art=False) -> np.ndarray:
    """Lay `source` over `backdrop`: source-over, or source-atop (alpha unchanged) when kept to the art."""
    mixed = straight_colour(source)
    if mode != "normal":
        blended = mode_named(mode).colours(straight_colour(backdrop), mixed)
        mixed = mixed + backdrop[3] * (blended - mixed)
    return _paint(backdrop, mixed, source[3], _weights(weight, backdrop), kept_to_art)


def cover(picture, shown, weight=1.0) -> np.ndarray:
    """Take the picture away where `shown` (H, W), 0..1, is low."""
    return picture * (1 - _weights(weight, picture) * (1 - shown))


def remake(picture, made, mode="normal", weight=1.0) -> np.ndarray:
    """Go from `picture` towards `made`, which keeps its alpha and takes its colour by the blend mode."""
    target = made
    if mode != "normal":
        target, colour = made.copy(), straight_colour(made)
        blended = mode_named(mode).colours(straight_colour(picture), colour)
        target[:3] = made[3] * (colour + picture[3] * (blended - colour))
    return clean(picture + _weights(weight, picture) * (target - picture))


def clean(picture) -> np.ndarray:
    """Hold alpha in 0..1 and colour in 0..alpha, in place."""
    np.clip(picture[3], 0, 1, out=picture[3])
    np.clip(picture[:3], 0, picture[3], out=picture[:3])
    return picture


def _weights(weight, picture) -> np.ndarray:
    return np.ascontiguousarray(np.broadcast_to(np.float32(weight), picture.shape[1:]))


@kernel
def _paint(backdrop, mixed, alpha, weight, kept_to_art):
    out = np.empty_like(backdrop)
    _, height, width = backdrop.shape
    for y in range(height):
        for x in range(width):
            a = alpha[y, x] * weight[y, x]
            below = backdrop[3, y, x]
            above = a * below if kept_to_art else a
            total = below if kept_to_art else min(a + below * (1 - a), np.float32(1))
            out[3, y, x] = total
            for c in range(3):
                value = above * mixed[c, y, x] + (1 - a) * backdrop[c, y, x]
                out[c, y, x] = min(max(value, np.float32(0)), total)
    return out
