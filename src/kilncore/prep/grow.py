"""Grow or shrink the darks: the darkest, or the lightest, tone within a disc.

Source: grey-scale morphology (Serra, Image Analysis and Mathematical Morphology, 1982). A large
disc is done as several small ones after another, which add up to it; parts of a px are a mixture of
the whole ones below and above.
"""

import math
from collections.abc import Callable
from typing import Literal

import numpy as np

from kilncore.model.setting import setting
from kilncore.pixels.stored import deep, full_of, put
from kilncore.prep.bands import places
from kilncore.prep.base import Copy, Operation, operation
from kilncore.system.opencv import cv2

MOST_PX = 30.0
PASS_PX = 3
BLOCK_ROWS = 512


@operation(
    "grow", title="Grow or shrink the darks", sentence="Dark parts become fatter or thinner."
)
class Grow(Operation):
    """by_px : how far the edge of dark moves outwards; below 0, inwards."""

    kind: Literal["grow"] = "grow"
    by_px: float = setting(
        1.0, "By", "", "size", unit="px", soft=(-10, 10), ge=-MOST_PX, le=MOST_PX, step=0.1
    )

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """Grown or shrunk."""
        return grown(planes, self.by_px * copy.unit, copy.wraps)

    def told(self) -> str:
        """Which way."""
        return f"{'grown' if self.by_px >= 0 else 'shrunk'} by {abs(self.by_px):.3g} px"


def grown(planes: np.ndarray, by: float, wraps: bool) -> np.ndarray:
    """Planes whose darks reach `by` px further."""
    count, height, width = planes.shape
    out = np.empty(planes.shape, deep(planes.dtype))
    far = math.ceil(abs(by))
    unit = np.float32(1 / full_of(planes))
    columns = places(-far, width + far, width, wraps)
    for plane, made in zip(planes, out, strict=True):
        for top in range(0, height, BLOCK_ROWS):
            stop = min(top + BLOCK_ROWS, height)
            rows = places(top - far, stop + far, height, wraps)
            further = _moved(plane[rows][:, columns], by)
            inner = further[far : far + stop - top, far : far + width]
            put(inner * unit, made[top:stop])
    return out


def _moved(tones: np.ndarray, by: float) -> np.ndarray:
    work = cv2.erode if by > 0 else cv2.dilate
    whole, part = int(abs(by)), np.float32(abs(by) % 1)
    reached = _by_discs(tones, whole, work)
    if not part:
        return reached
    further = work(reached, disc(1), borderType=cv2.BORDER_REPLICATE)
    return reached * (1 - part) + further * part


def _by_discs(tones: np.ndarray, radius: int, work: Callable) -> np.ndarray:
    while radius:
        step = min(radius, PASS_PX)
        tones = work(tones, disc(step), borderType=cv2.BORDER_REPLICATE)
        radius -= step
    return tones


def disc(radius: int) -> np.ndarray:
    """(2 r + 1, 2 r + 1) uint8: 1 where the middle of a px lies within `radius`."""
    at = np.arange(-radius, radius + 1)
    return (at[:, None] ** 2 + at**2 <= radius**2).astype(np.uint8)
