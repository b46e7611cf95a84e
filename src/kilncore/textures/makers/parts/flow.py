"""A field read from where it has flowed to: what bends, drifts and swirls. It wraps."""

import numpy as np

from kilncore.system.opencv import cv2
from kilncore.textures.makers.parts.fields import Fields


def flowed(
    fields: Fields, values: np.ndarray, across: np.ndarray | float, down: np.ndarray | float
) -> np.ndarray:
    """(H, W) float32: each px read that far away, px at 300 ppi, between its neighbours. across,
    down : (H, W), or the same for all.
    """
    height, width = values.shape
    scale = np.float32(fields.scale)
    off = [np.broadcast_to(np.asarray(one, np.float32), values.shape) for one in (across, down)]
    x = (np.arange(width, dtype=np.float32)[None] + off[0] * scale) % np.float32(width)
    y = (np.arange(height, dtype=np.float32)[:, None] + off[1] * scale) % np.float32(height)
    wide = np.pad(values.astype(np.float32), ((0, 1), (0, 1)), mode="wrap")
    return cv2.remap(wide, x, y, cv2.INTER_LINEAR)
