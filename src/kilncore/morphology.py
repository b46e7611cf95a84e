"""Making shapes thinner and fatter.

Source: W3C Filter Effects Module Level 1, feMorphology: the least, or the most, of each
premultiplied channel within a rectangle of 2 rx + 1 by 2 ry + 1 px.
"""

import numpy as np

from kilncore.errors import KilnError
from kilncore.pixels.planes import checked, from_planes, to_planes
from kilncore.system.opencv import cv2

MOST_RADIUS = 2000
WIDEST_PASS = 50  # px


def morphology(
    image: np.ndarray, radius_x: int, radius_y: int | None = None, operator: str = "erode"
) -> np.ndarray:
    """Erode or dilate a picture. Outside it lies transparent black.

    Parameters
    ----------
    image : (H, W, 4) float array
        Straight, 0..1.
    radius_x, radius_y : int
        Whole px, 0 or more; radius_y is radius_x by default.
    operator : str
        'erode' or 'dilate'.

    Returns
    -------
    (H, W, 4) float32 array
        Straight.

    Raises
    ------
    KilnError
        For another operator, or a radius below 0.

    References
    ----------
    W3C, Filter Effects Module Level 1, feMorphology.
    """
    radius_y = radius_x if radius_y is None else radius_y
    if operator not in ("erode", "dilate"):
        raise KilnError("The operator must be 'erode' or 'dilate'.", operator)
    if not all(isinstance(r, int) and 0 <= r <= MOST_RADIUS for r in (radius_x, radius_y)):
        raise KilnError(
            f"A radius must be a whole number from 0 to {MOST_RADIUS} px.",
            f"{radius_x}, {radius_y}",
        )
    padded = np.pad(to_planes(checked(image)), ((0, 0), (radius_y, radius_y), (radius_x, radius_x)))
    return from_planes(morphed_within(padded, radius_x, radius_y, operator == "dilate"))


def morphed_within(planes: np.ndarray, radius_x: int, radius_y: int, dilate: bool) -> np.ndarray:
    """(C, H, W) float32 planes that carry a border of the radii; the border is used up.

    Rectangles add up: a wide one is done as several narrower ones after another, which costs less.
    """
    if not planes.size:
        raise ValueError(f"planes of {planes.shape} have nothing to work on")
    work = cv2.dilate if dilate else cv2.erode
    passes = max(1, -(-max(radius_x, radius_y) // WIDEST_PASS))
    radii = [(_share(radius_x, n, passes), _share(radius_y, n, passes)) for n in range(passes)]
    out = [np.ascontiguousarray(plane) for plane in planes]
    for rx, ry in radii:
        out = [work(plane, np.ones((2 * ry + 1, 2 * rx + 1), np.uint8)) for plane in out]
    _, height, width = planes.shape
    return np.stack(out)[:, radius_y : height - radius_y, radius_x : width - radius_x]


def _share(radius: int, number: int, passes: int) -> int:
    return radius * (number + 1) // passes - radius * number // passes
