"""A scan of any size that never repeats (`prep.pieces` says how)."""

import math

import numpy as np

from kilncore.measure.piece_size import COARSER, held_size, piece_for
from kilncore.measure.speck_size import coarseness
from kilncore.pixels.luma import luminance_rows
from kilncore.prep.components import components_of
from kilncore.prep.pieces import laid

MOST_PX = 32_768


def endless(
    image: np.ndarray, width: int, height: int, seed: int = 1, piece_px: float | None = None
) -> np.ndarray:
    """A scan laid endlessly: of any size, its edges meet, and nothing in it is seen twice.

    Parameters
    ----------
    image : (H, W, C) float array
        0..1.
    width, height : int
        Of the result, px; 1 to 32,768.
    seed : int
        Of 32 bits: which pieces lie where.
    piece_px : float, optional
        Size of the pieces; None: as `piece_size` says, at most a third of the scan's shorter side.

    Returns
    -------
    (height, width, C) float32 array
        0..1, the same for the same seed.

    Raises
    ------
    ValueError
        For an image or a size that cannot be.

    References
    ----------
    Heitz and Neyret, High-performance by-example noise using a histogram-preserving blending
    operator, 2018; Burley, On histogram-preserving blending for randomized texture tiling, 2019.
    """
    image = np.asarray(image, np.float32)
    if image.ndim != 3 or not image.size:
        raise ValueError(f"an image must be (H, W, C), not {image.shape}")
    if not (1 <= width <= MOST_PX and 1 <= height <= MOST_PX):
        raise ValueError(f"{width} x {height} px is no size")
    planes = np.ascontiguousarray(np.moveaxis(np.clip(np.nan_to_num(image), 0, 1), 2, 0))
    side = piece_size(planes) if piece_px is None else held_size(planes.shape[1:], piece_px)
    out = np.empty((height, width, len(planes)), np.float32)
    for rows, band in laid(components_of(planes), width, height, seed, side):
        out[rows] = np.moveaxis(band, 0, 2)
    return out


def piece_size(planes: np.ndarray) -> float:
    """Px of a piece that holds about 8 of the scan's specks, and 2 or 3 of the patches that they
    come in. planes : (C, H, W), 0..1."""
    grey = luminance_rows(planes[:3] if len(planes) >= 3 else planes[:1])
    if min(grey.shape) < 8 * COARSER:
        return held_size(grey.shape, math.inf)
    return piece_for(grey.shape, grey, coarseness(grey))
