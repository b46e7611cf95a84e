"""How large the pieces are in which a scan is laid endlessly (`prep.pieces`): they hold what it is
made of.
"""

import math

import numpy as np

from kilncore.measure.speck_size import coarseness

SPECKS_ACROSS = 8.0  # of a piece
# of a piece, too: the specks of a copy this much coarser, of which fine ones are averaged away
PATCHES_ACROSS, COARSER = 2.5, 8
LEAST_PX = 8.0  # of a piece
LEAST_SHARE, MOST_SHARE = 1 / 8, 1 / 3  # of the scan's shorter side


def piece_for(size: tuple[int, int], grey: np.ndarray, speck_px: float) -> float:
    """Px of a piece of a scan of (width, height) px that holds about 8 of its specks, and 2 or 3 of
    the patches that they come in. grey : all of it, or its middle. speck_px : a typical speck.
    """
    if min(grey.shape) < 8 * COARSER:
        return held_size(size, math.inf)
    small = grey[: grey.shape[0] // COARSER * COARSER, : grey.shape[1] // COARSER * COARSER]
    small = small.reshape(small.shape[0] // COARSER, COARSER, -1, COARSER).mean((1, 3))
    patches = PATCHES_ACROSS * COARSER * coarseness(small)
    least = LEAST_SHARE * min(size)
    return held_size(size, max(least, SPECKS_ACROSS * speck_px, patches))


def held_size(size: tuple[int, int], side: float) -> float:
    """A size that pieces of a scan of so many px may have."""
    most = max(1.0, MOST_SHARE * min(size))
    return float(min(max(side, LEAST_PX), most)) if math.isfinite(side) else most
