"""Making shapes thinner and fatter.

Source: W3C Filter Effects Module Level 1, feMorphology: the least, or the most, of each premultiplied channel within a
rectangle of 2 rx + 1 by 2 ry + 1 px.
"""

import numpy as np

from kilncore.errors import KilnError
from kilncore.kernels import kernel
from kilncore.planes import checked, from_planes, to_planes

MOST_RADIUS = 2000


def morphology(image: np.ndarray, radius_x: int, radius_y: int | None = None, operator: str = "erode") -> np.ndarray:
    """A straight (H, W, 4) picture eroded or dilated; outside it lies transparent black.

    radius_x, radius_y : whole px, 0 or more; radius_y defaults to radius_x. operator : 'erode' or 'dilate'.
    """
    radius_y = radius_x if radius_y is None else radius_y
    if operator not in ("erode", "dilate"):
        raise KilnError("The operator must be 'erode' or 'dilate'.", operator)
    if not all(isinstance(r, int) and 0 <= r <= MOST_RADIUS for r in (radius_x, radius_y)):
        raise KilnError(f"A radius must be a whole number from 0 to {MOST_RADIUS} px.", f"{radius_x}, {radius_y}")
    padded = np.pad(to_planes(checked(image)), ((0, 0), (radius_y, radius_y), (radius_x, radius_x)))
    return from_planes(morphed_within(padded, radius_x, radius_y, operator == "dilate"))


def morphed_within(planes: np.ndarray, radius_x: int, radius_y: int, dilate: bool) -> np.ndarray:
    """(C, H, W) float32 planes that carry a border of the radii; the border is used up."""
    sign = np.float32(-1 if dilate else 1)  # the most is the least of what is turned round
    planes = _least_down(_least_across(np.ascontiguousarray(planes * sign), 2 * radius_x + 1), 2 * radius_y + 1)
    return planes * sign


@kernel
def _least_across(planes, size):
    """Runs of blocks, from the left and from the right (van Herk 1992, Gil and Werman 1993): the same work at any size."""
    channels, height, width = planes.shape
    out = np.empty((channels, height, width - size + 1), np.float32)
    ahead, back = np.empty(width, np.float32), np.empty(width, np.float32)
    for c in range(channels):
        for y in range(height):
            for x in range(width):
                value = planes[c, y, x]
                ahead[x] = value if x % size == 0 else min(ahead[x - 1], value)
            for i in range(width):
                x = width - 1 - i
                value = planes[c, y, x]
                back[x] = value if x % size == size - 1 or x == width - 1 else min(back[x + 1], value)
            for x in range(width - size + 1):
                out[c, y, x] = min(back[x], ahead[x + size - 1])
    return out


@kernel
def _least_down(planes, size):
    channels, height, width = planes.shape
    out = np.empty((channels, height - size + 1, width), np.float32)
    ahead, back = np.empty((height, width), np.float32), np.empty((height, width), np.float32)
    for c in range(channels):
        for y in range(height):
            for x in range(width):
                value = planes[c, y, x]
                ahead[y, x] = value if y % size == 0 else min(ahead[y - 1, x], value)
        for i in range(height):
            y = height - 1 - i
            for x in range(width):
                value = planes[c, y, x]
                back[y, x] = value if y % size == size - 1 or y == height - 1 else min(back[y + 1, x], value)
        for y in range(height - size + 1):
            for x in range(width):
                out[c, y, x] = min(back[y, x], ahead[y + size - 1, x])
    return out
