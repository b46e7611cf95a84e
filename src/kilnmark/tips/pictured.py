"""What a tip looks like: the stroke that it makes, on a mark's colour."""

from functools import lru_cache

import numpy as np

from kilncore.errors import KilnError
from kilncore.geometry.box import Box
from kilncore.output.preview import encode
from kilncore.pixels.colour import HEX, hex_to_rgb
from kilncore.strokes import Stroke, file_of, strokes_in
from kilncore.strokes.covering import covered
from kilncore.strokes.scratches import scratch
from kilncore.strokes.tip import SHIPPED, Shipped
from kilncore.system.opencv import cv2

ON, UNDER = "#d6b05a", "#5f554d"  # a mark of many colours, and what shows through it
WIDE, TALL = 264, 64  # px, shown at half
WHOLE = 960  # px, shown at half
UNIT, RADIUS, POINTS = 100, 0.2, 40
OWN_LAID = Shipped("", 0.3, turns=1, flips=True, loaded=0.8)
OWN = (1 / UNIT, 0.0, 0.0, 1 / UNIT, (0.5 - WIDE / 2) / UNIT, (0.5 - TALL / 2) / UNIT)
LAID = ("gap", "follows", "turns", "sizes", "strays", "flips", "loaded")


@lru_cache(64)
def stroke_of(name: str, on: str, under: str) -> bytes:
    """A PNG. name : of a tip that ships, a tip as text, 'round' the smooth one, 'line' scratches.
    on, under : colours, '#rrggbb'."""
    if not (HEX.match(on) and HEX.match(under)):
        raise KilnError("A colour is # and six hex digits.", f"{on} {under}"[:40])
    shown = np.zeros((TALL, WIDE), np.float32)
    for stroke in _scratches() if name == "line" else [_wave(name)]:
        (drawn,) = strokes_in(file_of(stroke))
        found = covered(drawn, OWN, Box(0, 0, WIDE, TALL))
        if found is not None:
            here, amount = found
            part = shown[here.top : here.bottom, here.left : here.right]
            part += amount * (1 - part)
    colour = hex_to_rgb(on) + (hex_to_rgb(under) - hex_to_rgb(on)) * shown[..., None]
    return encode(np.rint(colour * 255).astype(np.uint8), lossless=True)[0]


def _wave(name: str) -> Stroke:
    along = np.linspace(-1, 1, POINTS)
    points = np.column_stack([along * (WIDE / 2 / UNIT - RADIUS * 1.1), 0.10 * np.sin(along * 3.4)])
    tip = "" if name == "round" else name
    laid = laid_by(tip) if tip else {}
    return Stroke(points=tuple(map(tuple, points.tolist())), radius=RADIUS, tip=tip, seed=5, **laid)


def laid_by(tip: str) -> dict:
    """How a tip is laid until that is changed. tip : the name of one that ships, or one as text."""
    return {key: getattr(SHIPPED.get(tip, OWN_LAID), key) for key in LAID}


def _scratches() -> list[Stroke]:
    wide, tall = WIDE / UNIT / 2, TALL / UNIT / 2
    ends = [(-0.85, 0.5, 0.3, -0.55), (-0.4, 0.7, 0.9, -0.2), (-0.7, -0.1, 0.05, -0.75)]
    return [
        scratch((x0 * wide, y0 * tall), (x1 * wide, y1 * tall), 0.05, seed)
        for seed, (x0, y0, x1, y1) in enumerate(ends)
    ]


def whole_of(planes: np.ndarray) -> tuple[bytes, str]:
    """(bytes, media type) of all of a texture, small. planes : (C, H, W) uint8 or uint16."""
    scale = WHOLE / max(planes.shape[1:])
    size = [max(round(side * scale), 1) for side in planes.shape[:0:-1]]
    small = [cv2.resize(one, size, interpolation=cv2.INTER_AREA) for one in planes[:3]]
    pixels = np.dstack((small * 3)[:3] if len(small) < 3 else small)
    if pixels.dtype == np.uint16:
        pixels = np.rint(pixels / 257).astype(np.uint8)
    return encode(np.ascontiguousarray(pixels), lossless=False)
