"""A field read from where it has flowed to: what bends, drifts and swirls. It wraps."""

import numpy as np

from kilncore.system.opencv import cv2
from kilncore.textures.makers.parts.fields import Fields


def flowed(fields: Fields, values: np.ndarray, across: np.ndarray, down: np.ndarray) -> np.ndarray:
    """(H, W) float32: each px read that far away, px at 300 ppi, between its neighbours."""
    height, width = values.shape
    scale = np.float32(fields.scale)
    x = (np.arange(width, dtype=np.float32)[None] + across * scale) % np.float32(width)
    y = (np.arange(height, dtype=np.float32)[:, None] + down * scale) % np.float32(height)
    wide = np.pad(values.astype(np.float32), ((0, 1), (0, 1)), mode="wrap")
    return cv2.remap(wide, x, y, cv2.INTER_LINEAR)
