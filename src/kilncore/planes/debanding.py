"""Displacement maps from 8-bit sources without terraces.

A slow ramp stored in 8 bits is a stair: flat for many pixels, then a step of 1/255. A shift that
follows it moves the art in slabs. The map is smoothed, but no value leaves the half step to either
side that rounding may have taken it from: what comes out would have been stored as the very same 8
bits, so no detail of the surface is lost.
"""

import numpy as np

from kilncore.blur import blur_within, reach
from kilncore.compiled.kernels import kernel

SIGMA_PX = 6.0  # document px
CUT_OFF = 2.5  # sigma: what smooths need not be a whole bell
HALF_STEP = np.float32(0.5 / 255)


def _sigma(scale: float) -> float:
    return SIGMA_PX * min(scale, 1.0)


def debanding_reach(scale: float) -> int:
    """Output px beyond a pixel that its steadied value depends on."""
    return reach(_sigma(scale), CUT_OFF)


def debanded(values: np.ndarray, scale: float, left: int, top: int):
    """(1, H, W) with a border of `steady_reach` px, from (left, top) on the grid; the border is
    used up.

    Returns the steadied values and where they begin.
    """
    sigma, border = _sigma(scale), debanding_reach(scale)
    smooth = blur_within(values, sigma, sigma, left, top, CUT_OFF)
    return (
        _held(np.ascontiguousarray(values), smooth, border, HALF_STEP),
        left + border,
        top + border,
    )


@kernel
def _held(values: np.ndarray, smooth: np.ndarray, border: int, most: float):
    _, height, width = smooth.shape
    out = np.empty_like(smooth)
    for y in range(height):
        for x in range(width):
            value = values[0, y + border, x + border]
            out[0, y, x] = min(max(value - most, smooth[0, y, x]), value + most)
    return out
