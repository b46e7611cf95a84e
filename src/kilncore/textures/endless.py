"""A scan of any size that never repeats (`prep.pieces` says how)."""

import numpy as np

from kilncore.measure.piece_size import held_size
from kilncore.prep.pieces import components_of, laid, piece_size

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
