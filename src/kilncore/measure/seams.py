"""How visible the seam is when a texture is repeated."""

import numpy as np

from kilncore.errors import KilnError

NEAR = 6  # rows to each side of where the edges meet
LEAST = 1e-4  # of all tones: smaller differences are none


def seam(image: np.ndarray) -> tuple[float, float]:
    """How visible the edges of a texture are where it repeats.

    Parameters
    ----------
    image : (H, W) or (H, W, C) float array
        0..1.

    Returns
    -------
    (across, down)
        The mean jump where the right edge meets the left one, and where the lower one meets the
        upper, over the mean difference of neighbours along that way: on all of it, or near these
        edges, where that is more. 1 is invisible.

    Raises
    ------
    KilnError
        For smaller ones than 2 px each way.

    References
    ----------
    The module says the method.
    """
    image = np.asarray(image, np.float32)
    if image.ndim not in (2, 3) or min(image.shape[:2]) < 2:
        raise KilnError("A seam needs a picture of 2 px each way at least.", str(image.shape))
    return _jump(np.moveaxis(image, 1, 0)), _jump(image)


def _jump(rows: np.ndarray) -> float:
    """Between the last and the first of the rows."""
    differences = np.abs(np.diff(rows, axis=0)).reshape(len(rows) - 1, -1).mean(1)
    near = np.concatenate([differences[:NEAR], differences[-NEAR:]])
    typical = float(max(differences.mean(), near.mean()))
    jump = float(np.abs(rows[0] - rows[-1]).mean())
    return 1.0 if jump < LEAST and typical < LEAST else jump / max(typical, LEAST)
