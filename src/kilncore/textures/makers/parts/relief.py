"""Relief: how light falls on heights, and how far a place lies from an edge. Both wrap."""

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.system.opencv import cv2
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.halves import by_rows


def lit(fields: Fields, heights: np.ndarray) -> np.ndarray:
    """Of a lamp to the upper left: positive where a slope faces it, in px of height to a px.

    heights : (H, W), in px at 300 ppi.
    """
    given = np.ascontiguousarray(heights, np.float32)
    out = np.empty_like(given)
    by_rows(len(given), lambda top, end: _lit(given, np.float32(fields.scale / 2), out, top, end))
    return out


def from_edge(fields: Fields, inside: np.ndarray, reach: float) -> np.ndarray:
    """(H, W) float32: px at 300 ppi to the edge of a shape, positive inside, -reach .. reach.

    inside : (H, W) bool. To half a px of what is drawn, which is enough for what noise is added to.
    """
    most = max(2, int(np.ceil(reach * fields.scale)))
    around = np.pad(inside.astype(np.uint8), most, mode="wrap")
    inner, outer = (
        cv2.distanceTransform(one, cv2.DIST_L2, cv2.DIST_MASK_5)[most:-most, most:-most]
        for one in (around, 1 - around)
    )
    within = np.where(inner > 0, inner - np.float32(0.5), np.float32(0.5) - outer)
    return np.clip(within, -most, most) / np.float32(fields.scale)


def as_heights(heights: np.ndarray) -> np.ndarray:
    """(H, W) 0..1: from the lowest to the highest but for the outermost 0.2 % of each."""
    low, high = np.quantile(heights[::3, ::3], (0.002, 0.998))
    return (heights - np.float32(low)) / np.float32(max(high - low, 1e-6))


@kernel
def _lit(heights: np.ndarray, share: float, out: np.ndarray, top: int, end: int):
    height, width = heights.shape
    for y in range(top, end):
        above, below = (y - 1) % height, (y + 1) % height
        for x in range(width):
            before = heights[y, x - 1] if x else heights[y, width - 1]
            after = heights[y, x + 1] if x + 1 < width else heights[y, 0]
            out[y, x] = (before - after + heights[above, x] - heights[below, x]) * share
