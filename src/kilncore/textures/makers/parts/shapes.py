"""Small shapes, simple ones and one's own drawings, as coverage, laid on a tile."""

import numpy as np

from kilncore.errors import KilnError
from kilncore.svg.parsing import parsed
from kilncore.svg.rasterising import rasterised
from kilncore.svg.sanitising import own_size
from kilncore.system.opencv import cv2
from kilncore.textures.makers.parts.fields import Fields

SHAPES = (
    ("none", "None"),
    ("dot", "Dot"),
    ("ring", "Ring"),
    ("square", "Square"),
    ("frame", "Frame"),
    ("triangle", "Triangle"),
    ("cross", "Cross"),
    ("bar", "Bar"),
    ("drop", "Drop"),
    ("star", "Star"),
)
FINER, FINEST_PX = 4, 2048  # times as fine as a px a shape is drawn, and px of it at most


def lay(ink: np.ndarray, sprite: np.ndarray, x: float, y: float) -> None:
    """Over what is there, around the edges, in the nearest whole px."""
    tall, wide = sprite.shape
    rows = (round(y - tall / 2) + np.arange(tall)) % ink.shape[0]
    columns = (round(x - wide / 2) + np.arange(wide)) % ink.shape[1]
    here = np.ix_(rows, columns)
    ink[here] = ink[here] + sprite * (1 - ink[here])


def own_drawing(name: str, fields: Fields, side: float) -> np.ndarray:
    """How dark and how solid one's own drawing is, fitted into the square."""
    svg = fields.drawings.get(name)
    if svg is None:
        raise KilnError("The drawing of this texture is not there. Choose another one.")
    size = own_size(parsed(svg))
    px = max(1, round(side))
    scale = px / max(size)
    pixels = rasterised(svg, size, (scale, 0, 0, scale, px / 2, px / 2), px, px, scale)
    share = pixels.astype(np.float32) / 255
    light = share[..., :3] @ np.array([0.2126, 0.7152, 0.0722], np.float32)
    return share[..., 3] * (1 - 0.85 * light)


def drawn(name: str, side: float) -> np.ndarray:
    """Coverage of a simple shape in a square of that side, px."""
    px = max(1, round(side))
    finer = max(1, min(FINER, FINEST_PX // px))
    at = ((np.arange(px * finer) + 0.5) / (px * finer) * 2 - 1).astype(np.float32)
    x, y = at[None], at[:, None]
    inside = INSIDE[name](x, y, np.hypot(x, y))
    whole = np.broadcast_to(inside, (px * finer, px * finer)).astype(np.float32)
    return cv2.resize(whole, (px, px), interpolation=cv2.INTER_AREA)


def _drop(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    round_part = np.hypot(x, y - 0.35) < 0.6
    neck = (y < 0.1) & (y > -0.97) & (abs(x) < 0.56 * (y + 0.97) / 1.07)
    return round_part | neck


def _point(angle: np.ndarray) -> np.ndarray:
    """How far a star of five points reaches, 0 to 1."""
    off = np.abs((angle / (2 * np.pi) * 5) % 1 - 0.5) * 2  # 1 at a point
    return off**2.2


def _most(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    return np.maximum(abs(x), abs(y))


# of (across, down, from the middle), each -1 to 1
INSIDE = {
    "dot": lambda x, y, far: far < 1,
    "ring": lambda x, y, far: (far < 1) & (far > 0.62),
    "square": lambda x, y, far: _most(x, y) < 0.9,
    "frame": lambda x, y, far: (_most(x, y) < 0.95) & (_most(x, y) > 0.66),
    "triangle": lambda x, y, far: (y < 0.8) & (y > 2 * abs(x) * 0.866 - 0.93),
    "cross": lambda x, y, far: (np.minimum(abs(x), abs(y)) < 0.24) & (_most(x, y) < 0.95),
    "bar": lambda x, y, far: (abs(y) < 0.2) & (abs(x) < 0.97),
    "drop": lambda x, y, far: _drop(x, y),
    "star": lambda x, y, far: far < 0.42 + 0.55 * _point(np.arctan2(x, -y)),
}
