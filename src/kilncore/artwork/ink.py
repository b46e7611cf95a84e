"""Ink from paper, of a whole image: the public function (docs/engine.md)."""

import numpy as np

from kilncore.pixels.stored import of_floats, to_floats
from kilncore.prep.ink import inked


def ink_from_paper(
    image: np.ndarray, black: float = 0.0, white: float = 1.0, inverted: bool = False
) -> np.ndarray:
    """The ink of a drawing on paper, in its own colour.

    Parameters
    ----------
    image : (H, W, 4) float32 array
        Straight, 0..1.
    black : float
        At which tone of the darkest channel ink covers, 0..1.
    white : float
        From which on there is none, 0..1.
    inverted : bool
        Light ink on dark paper, with black where there is none and white where it covers.

    Returns
    -------
    (H, W, 4) float32 array
        Straight, 0..1.

    Raises
    ------
    ValueError
        For what is no image or number in bounds.

    References
    ----------
    `kilncore.prep.ink`.
    """
    if not (0 <= black <= 1 and 0 <= white <= 1):
        raise ValueError(f"black and white must be 0 to 1, not {black} and {white}")
    return to_floats(inked(of_floats(image), black, white, inverted))
