"""Knocking out a plain background.

What is near one of the background's colours (a distance in OKLab with a and b doubled) and touches
the border through such pixels is background; holes that are as plain may go too, or all that is
near. The pixels along its edge are un-mixed from it (`unmixing`), so that no fringe of it stays.
The edge can be moved and feathered.
"""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from kilncore.model.setting import setting
from kilncore.pixels.colour import HexColour, hex_to_rgb
from kilncore.pixels.holes import plain_holes
from kilncore.pixels.likeness import near
from kilncore.pixels.stored import full_of, premultiplied, straight, times
from kilncore.prep.base import PICTURE, Copy, Operation, operation
from kilncore.prep.edges import moved
from kilncore.prep.unmixing import unmixed
from kilncore.system.opencv import cv2

MOST_COLOURS = 8
MOST_GROWN, MOST_FEATHERED = 20.0, 40.0  # px
REACHED = 2


@operation(
    "knock-out",
    title="Knock out",
    sentence="A plain background becomes see-through, no fringe.",
    serves=(PICTURE,),
)
class KnockOut(Operation):
    """colours : of the background. tolerance : how far from them still is background."""

    kind: Literal["knock-out"] = "knock-out"
    colours: Annotated[tuple[HexColour, ...], Field(max_length=MOST_COLOURS)] = setting(
        ("#ffffff",), "Background", "Click the picture to pick more.", "picked", reload=True
    )
    tolerance: float = setting(
        0.1, "Tolerance", "", "slider", unit="%", factor=100, soft=(0, 50), ge=0, le=1, step=0.5
    )
    connected: bool = setting(True, "Only what touches the border", "", "toggle", reload=True)
    plain_holes: bool = setting(
        False,
        "And holes that are as plain",
        "As the inside of a ring.",
        "toggle",
        if_="connected",
    )
    grow_px: float = setting(
        0.0,
        "Edge out, in",
        "",
        "slider",
        unit="px",
        soft=(-6, 6),
        ge=-MOST_GROWN,
        le=MOST_GROWN,
        step=0.1,
    )
    feather_px: float = setting(
        0.0, "Feather", "", "slider", unit="px", soft=(0, 12), ge=0, le=MOST_FEATHERED, step=0.1
    )
    unmix: bool = setting(True, "Take the fringe out of the edge", "", "toggle")

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """(4, H, W)."""
        colours = np.array([hex_to_rgb(colour) for colour in self.colours]).reshape(-1, 3)
        return knocked_out(
            planes,
            colours,
            self.tolerance,
            self.connected,
            self.grow_px * copy.unit,
            self.feather_px * copy.unit,
            self.unmix,
            self.plain_holes,
        )


def knocked_out(
    planes: np.ndarray,
    colours: np.ndarray,
    tolerance: float,
    connected: bool,
    grow: float,
    feather: float,
    unmix: bool,
    holes: bool = False,
) -> np.ndarray:
    """(4, H, W) premultiplied planes without their background. colours : (N, 3), 0..1; none leave
    all as it is. grow, feather : px. holes : of what is connected, whether those that are as plain
    go too.
    """
    paint, before = straight(planes)
    full = full_of(planes)
    background = background_of(paint, before, colours, tolerance, connected, holes)
    if unmix:
        alpha, paint = unmixed(paint, background, colours)
    else:
        alpha = np.where(background, 0, full).astype(planes.dtype)
    alpha, paint = moved(alpha, paint, grow, feather)
    return premultiplied(paint, times(alpha, before))


def background_of(
    paint: np.ndarray,
    before: np.ndarray | None,
    colours: np.ndarray,
    tolerance: float,
    connected: bool,
    holes: bool = False,
) -> np.ndarray:
    """(H, W) uint8, 1 where the background is. before : alpha that the picture came with; where
    there is none of it, background can be reached through.
    """
    alike = near(paint, colours, tolerance) if len(colours) else np.zeros(paint.shape[1:], np.uint8)
    if before is not None and len(colours):
        alike[before == 0] = 1
    if not connected:
        return alike
    framed = np.ones((alike.shape[0] + 2, alike.shape[1] + 2), np.uint8)
    framed[1:-1, 1:-1] = alike
    cv2.floodFill(framed, None, (0, 0), REACHED, flags=4)
    reached = (framed[1:-1, 1:-1] == REACHED).astype(np.uint8)
    return reached | plain_holes(paint, alike, reached) if holes else reached
