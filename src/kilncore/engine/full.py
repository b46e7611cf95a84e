"""All four planes of a picture that may be kept as alpha alone."""

import numpy as np

from kilncore.compose import coloured


def full(planes: np.ndarray, tint) -> np.ndarray:
    """tint : the one straight colour of (1, H, W) planes, or None of (4, H, W), which come back as they are."""
    return planes if tint is None else coloured(planes, tint)
