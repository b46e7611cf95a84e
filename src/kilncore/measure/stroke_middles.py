"""Where the middles of a shape's strokes lie, and how wide they are there.

Middles are where the distance to the edge has no slope; after Siddiqi and others, "Hamilton-Jacobi
Skeletons", International Journal of Computer Vision 48 (2002), by the plain length of the slope.
"""

import numpy as np

from kilncore.system.opencv import cv2

FLAT = 0.3  # squared slope of the distance, below which a middle lies; 0.5 in a corner of 90 deg


def depth(inside: np.ndarray) -> np.ndarray:
    """(H, W) float32 px from the edge of a bool shape, 0 outside; beyond the borders there is
    nothing. Chamfer distances are within 2 %, and ten times as quick as exact ones.
    """
    solid = cv2.copyMakeBorder(inside.astype(np.uint8), 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0)
    away = cv2.distanceTransform(solid, cv2.DIST_L2, 5)[1:-1, 1:-1]
    return np.maximum(away - np.float32(0.5), 0)


def middles(deep: np.ndarray, inside: np.ndarray) -> np.ndarray:
    """(H, W) bool. deep : as `depth` gives it."""
    right, down = np.zeros_like(deep), np.zeros_like(deep)
    right[:, 1:-1] = (deep[:, 2:] - deep[:, :-2]) / 2
    down[1:-1] = (deep[2:] - deep[:-2]) / 2
    flat = inside & (right * right + down * down < FLAT)
    return flat if flat.any() else deep >= deep.max()  # a spot of a pixel or two


def widths(deep: np.ndarray, inside: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """(px to the middle of the nearest stroke, half the width of that stroke)."""
    flat = middles(deep, inside)
    away, nearest = cv2.distanceTransformWithLabels(
        1 - flat.astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    half = np.zeros(int(nearest.max()) + 1, np.float32)
    half[nearest[flat]] = deep[flat]
    return away, half[nearest]
