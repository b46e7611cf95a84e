"""Knocking out a plain background, of a whole image: the public function (docs/engine.md)."""

import numpy as np

from kilncore.pixels.colour import hex_to_rgb
from kilncore.pixels.stored import of_floats, to_floats
from kilncore.prep.knock_out import MOST_FEATHERED, MOST_GROWN, knocked_out


def knock_out(
    image: np.ndarray,
    colours: list[str],
    tolerance: float = 0.1,
    connected: bool = True,
    grow_px: float = 0.0,
    feather_px: float = 0.0,
    unmix: bool = True,
) -> np.ndarray:
    """The image with its background see-through: float32 (H, W, 4), straight, 0..1.

    image : float32 (H, W, 4), straight, 0..1. colours : ['#rrggbb', ...] of the background.
    tolerance : how far from them still is background, a distance in OKLab with a and b doubled, 0
    or more. connected : only what touches the border, else holes too. grow_px : moves the edge out,
    below 0 in. feather_px : softens it, by a Gaussian of half as much. unmix : takes the background
    out of the colours and into the alpha of edge pixels. ValueError for what is no image, colour or
    number in bounds. The method is told in `kilncore.prep.unmixing`.
    """
    if (
        not 0 <= tolerance <= 10
        or abs(grow_px) > MOST_GROWN
        or not 0 <= feather_px <= MOST_FEATHERED
    ):
        raise ValueError("tolerance, grow_px or feather_px is out of bounds")
    found = np.array([hex_to_rgb(colour) for colour in colours]).reshape(-1, 3)
    planes = of_floats(image)
    return to_floats(knocked_out(planes, found, tolerance, connected, grow_px, feather_px, unmix))
