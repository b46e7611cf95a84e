"""Whether a picture stands on a plain background, by what runs along its border."""

from typing import Any

import numpy as np

from kilncore.pixels.colour import hex_to_rgb
from kilncore.pixels.holes import plain_holes
from kilncore.pixels.oklab import distance
from kilncore.system.opencv import cv2

BORDER = 8  # px
NEAR, REACHED = 0.1, 2  # as a knock-out begins
PLAIN = 0.08  # in OKLab with a and b doubled
MOSTLY = 0.85  # of the border
ROUGH = 2.5  # of 255: so much neighbours differ on a surface; a JPEG's noise is less
PERHAPS_MOSTLY, PERHAPS_ROUGH = 0.7, 4.0
LEAST_SEEN = 0.002  # of a picture stands out from its background


def plain_background(pixels: np.ndarray) -> str | None:
    """'#rrggbb' of the plain background of an opaque picture, or None. pixels : (H, W, 3)
    uint8.
    """
    return _background(pixels, MOSTLY, ROUGH)


def perhaps_background(pixels: np.ndarray) -> str | None:
    """The same, of pictures of which it cannot be known: whoever brought it in is asked."""
    return _background(pixels, PERHAPS_MOSTLY, PERHAPS_ROUGH)


def holes_of(pixels: np.ndarray, colour: str) -> int:
    """How many holes are as plain as a background of that colour. pixels : (H, W, 3) uint8."""
    alike = (distance(pixels / 255, hex_to_rgb(colour)) <= NEAR).astype(np.uint8)
    framed = np.pad(alike, 1, constant_values=1)
    cv2.floodFill(framed, None, (0, 0), REACHED, flags=4)
    reached = (framed[1:-1, 1:-1] == REACHED).astype(np.uint8)
    paint = np.ascontiguousarray(np.moveaxis(pixels, 2, 0))
    return cv2.connectedComponents(plain_holes(paint, alike, reached), connectivity=4)[0] - 1


def _background(pixels: np.ndarray, mostly: float, rough: float) -> str | None:
    wide = min(BORDER, *pixels.shape[:2])
    edges = (pixels[:wide], pixels[-wide:], pixels[:, :wide], pixels[:, -wide:])
    border = np.concatenate([edge.reshape(-1, 3) for edge in edges])
    border = border[:: max(1, len(border) // 50_000)]
    middle = np.median(border, 0)
    if (distance(border / 255, middle / 255) <= PLAIN).mean() < mostly:
        return None
    if _rough(edges) > rough or _seen(pixels, middle) < LEAST_SEEN:
        return None  # stone, paper, boards: pale all over, and a surface
    return "#" + "".join(f"{round(value):02x}" for value in middle)


def _rough(edges: Any) -> float:
    """How much neighbours along the border differ: half of them by no more, so that what the art
    does where it touches the border does not count.
    """
    steps = [
        np.abs(np.diff(edge.astype(np.float32).mean(2), axis=1 if n < 2 else 0))
        for n, edge in enumerate(edges)
    ]
    return float(np.median(np.concatenate([one.ravel() for one in steps])))


def _seen(pixels: np.ndarray, middle: np.ndarray) -> float:
    """The share of a picture that stands out from its background."""
    step = max(1, int(np.sqrt(pixels.shape[0] * pixels.shape[1] / 300_000)))
    some = pixels[::step, ::step].reshape(-1, 3)
    return float((distance(some / 255, middle / 255) > 1.5 * PLAIN).mean())
