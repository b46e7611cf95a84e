"""Ink from paper: how dark it is becomes how much ink there is.

Between the white point, where there is none, and the black point, where it covers, a pixel's
darkest channel tells its alpha, so that a coloured line is as dense as it was drawn. The ink keeps
its own colour, with the paper's white taken out of it, C = a F + (1 - a) W, or takes another.
Inverted it is light ink from dark paper.
"""

from typing import Literal

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.model.setting import setting
from kilncore.pixels.colour import HexColour, hex_to_rgb
from kilncore.pixels.stored import full_of, straight
from kilncore.prep.base import PICTURE, Copy, Operation, operation
from kilncore.prep.lighting import flattened

LEAST_SPAN = 1 / 255


@operation(
    "ink",
    title="Ink from paper",
    sentence="Drawn on paper: the paper becomes see-through.",
    serves=(PICTURE,),
)
class Ink(Operation):
    """black, white : tones at which ink covers, and where there is none."""

    kind: Literal["ink"] = "ink"
    flatten: bool = setting(False, "Even out the light first", "", "toggle")
    inverted: bool = setting(False, "Light ink on dark paper", "", "toggle")
    black: float = setting(
        0.12, "Covers from", "", "slider", factor=255, soft=(0, 255), ge=0, le=1, step=1
    )
    white: float = setting(
        0.85, "Paper from", "", "slider", factor=255, soft=(0, 255), ge=0, le=1, step=1
    )
    one_colour: bool = setting(False, "One colour for all ink", "", "toggle", reload=True)
    colour: HexColour = setting("#20262a", "Colour", "", "colour", if_="one_colour")

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """(4, H, W)."""
        if self.flatten:
            planes = flattened(planes, self.inverted)
        colour = hex_to_rgb(self.colour) if self.one_colour else None
        return inked(planes, self.black, self.white, self.inverted, colour)


def inked(
    planes: np.ndarray,
    black: float,
    white: float,
    inverted: bool,
    colour: np.ndarray | None = None,
) -> np.ndarray:
    """(4, H, W) premultiplied planes of the ink. black, white : 0..1. colour : of the ink, three of
    0..1; None is its own.
    """
    paint, before = straight(planes)
    full = full_of(planes)
    least, most = min(black, white), max(black, white)
    most = max(most, least + LEAST_SPAN)
    given = before if before is not None else np.full((1, 1), full, planes.dtype)
    own = np.zeros(3) if colour is None else np.asarray(colour, np.float64)
    out = np.empty((4, *paint.shape[1:]), planes.dtype)
    _ink(paint, given, least, most, inverted, own, colour is None, float(full), out)
    return out


@kernel
def _ink(
    paint: np.ndarray,
    before: np.ndarray,
    black: float,
    white: float,
    inverted: float,
    colour: np.ndarray,
    own: float,
    full: float,
    out: np.ndarray,
):
    """In the units 0..1; light ink is dark ink in the negative."""
    _, height, width = paint.shape
    whole = before.shape == (1, 1) and (height, width) != (1, 1)
    least, most = (1.0 - white, 1.0 - black) if inverted else (black, white)
    for y in range(height):
        for x in range(width):
            darkest = 1.0
            for c in range(3):
                value = paint[c, y, x] / full
                darkest = min(1.0 - value if inverted else value, darkest)
            alpha = min(max(0.0, (most - darkest) / (most - least)), 1.0)
            share = alpha * (1.0 if whole else before[y, x] / full)
            out[3, y, x] = np.uint16(share * full + 0.5)
            for c in range(3):
                ink = colour[c]
                if own and alpha > 0.0:
                    value = paint[c, y, x] / full
                    value = 1.0 - value if inverted else value
                    ink = min(max(0.0, (value - (1.0 - alpha) * most) / alpha), 1.0)
                    ink = 1.0 - ink if inverted else ink
                out[c, y, x] = np.uint16(ink * share * full + 0.5)
