"""Ink from paper, of a whole image: the public function (docs/engine.md)."""

import numpy as np

from kilncore.pixels.stored import of_floats, to_floats
from kilncore.prep.ink import inked


def ink_from_paper(
    image: np.ndarray, black: float = 0.0, white: float = 1.0, inverted: bool = False
) -> np.ndarray:
    """The ink of a drawing on paper, in its own colour: float32 (H, W, 4), straight, 0..1.

    image : float32 (H, W, 4), straight, 0..1. black : at which tone of the darkest channel ink
    covers; white : from which on there is none, both 0..1. inverted : light ink on dark paper, with
    black where there is none and white where it covers. ValueError for what is no image or number
    in bounds. The method is told in `kilncore.prep.ink`.
    """
    if not (0 <= black <= 1 and 0 <= white <= 1):
        raise ValueError(f"black and white must be 0 to 1, not {black} and {white}")
    return to_floats(inked(of_floats(image), black, white, inverted))
