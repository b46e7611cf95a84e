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
    """An image with its background see-through.

    Parameters
    ----------
    image : (H, W, 4) float32 array
        Straight, 0..1.
    colours : list of str
        '#rrggbb' of the background.
    tolerance : float
        How far from them still is background: a distance in OKLab with a and b doubled, 0 or more.
    connected : bool
        Only what touches the border, else holes too.
    grow_px : float
        Moves the edge out, below 0 in.
    feather_px : float
        Softens it, by a Gaussian of half as much.
    unmix : bool
        Takes the background out of the colours and into the alpha of edge pixels.

    Returns
    -------
    (H, W, 4) float32 array
        Straight, 0..1.

    Raises
    ------
    ValueError
        For what is no image, colour or number in bounds.

    References
    ----------
    `kilncore.prep.unmixing`; Ottosson 2020 (OKLab).
    """
    if (
        not 0 <= tolerance <= 10
        or abs(grow_px) > MOST_GROWN
        or not 0 <= feather_px <= MOST_FEATHERED
    ):
        raise ValueError("tolerance, grow_px or feather_px is out of bounds")
    background = np.array([hex_to_rgb(colour) for colour in colours]).reshape(-1, 3)
    planes = of_floats(image)
    return to_floats(
        knocked_out(planes, background, tolerance, connected, grow_px, feather_px, unmix)
    )
