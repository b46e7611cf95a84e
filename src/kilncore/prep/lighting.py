"""Uneven light on paper, evened out: every channel is divided by how bright the paper is close by.

The paper's brightness is read on a small copy: the lightest tones around each place (a closing
wider than any line), smoothed. Where there is no paper for a long way, as in a large black area,
what lies around it is taken.
"""

import numpy as np

from kilncore.pixels.stored import full_of
from kilncore.system.opencv import cv2

SMALL = 384  # px of the longer side of the copy on which light is read
LINES = 0.07  # of the longer side: ink is not wider
SMOOTH = 0.03
LEAST = 0.08  # of full light: what is darker is not paper


def flattened(planes: np.ndarray, inverted: bool = False) -> np.ndarray:
    """Planes of the same shape and type, with the paper at full white, or black where `inverted`
    says that the paper is dark.
    """
    full = full_of(planes)
    out = planes.copy()
    count = min(len(planes), 3)
    for plane, made in zip(planes[:count], out[:count], strict=True):
        light = paper_light(full - plane if inverted else plane)
        for top in range(0, plane.shape[0], 512):
            rows = slice(top, min(top + 512, plane.shape[0]))
            values = (full - plane[rows] if inverted else plane[rows]) / light(rows)
            values = np.rint(np.minimum(values, full)).astype(planes.dtype)
            made[rows] = full - values if inverted else values
    if len(planes) == 4:
        np.minimum(out[:3], out[3], out=out[:3])
    return out


def paper_light(plane: np.ndarray):
    """A function from rows to (rows, W) float32: how bright the paper is there, LEAST..1."""
    height, width = plane.shape
    scale = min(1.0, SMALL / max(height, width))
    small = cv2.resize(
        plane,
        (max(1, round(width * scale)), max(1, round(height * scale))),
        interpolation=cv2.INTER_AREA,
    ).astype(np.float32) / full_of(plane)
    side = max(3, round(max(small.shape) * LINES) | 1)
    ellipse = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side))
    closed = cv2.morphologyEx(
        cv2.medianBlur(small, 3) if min(small.shape) > 2 else small,
        cv2.MORPH_CLOSE,
        ellipse,
        borderType=cv2.BORDER_REPLICATE,
    )
    light = cv2.GaussianBlur(
        closed, (0, 0), max(small.shape) * SMOOTH, borderType=cv2.BORDER_REPLICATE
    )
    light = np.maximum(light, LEAST)
    across = np.clip((np.arange(width) + 0.5) * small.shape[1] / width - 0.5, 0, None)

    def rows_of(rows: slice) -> np.ndarray:
        down = np.clip(
            (np.arange(rows.start, rows.stop) + 0.5) * small.shape[0] / height - 0.5, 0, None
        )
        columns, lines = np.meshgrid(across.astype(np.float32), down.astype(np.float32))
        return cv2.remap(light, columns, lines, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)

    return rows_of
