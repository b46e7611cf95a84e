"""Motif grid: small shapes, one's own among them, in rows and columns, as one flat tile.

Each shape is drawn once for each way it is turned, and laid on the tile as many times as there are
cells: the tile holds pixels, never thousands of objects.
"""

import numpy as np

from kilncore.errors import KilnError
from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.svg.parsing import parsed
from kilncore.svg.rasterising import rasterised
from kilncore.svg.sanitising import own_size
from kilncore.system.opencv import cv2
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.tones import to_bytes

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
ORDERS = (("order", "In order"), ("shuffled", "Shuffled"))
TURNS = (("none", "Not"), ("quarter", "By quarters"), ("any", "Any way"))
WAYS = {"none": 1, "quarter": 4, "any": 24}
FINER, FINEST_PX = 4, 2048  # times as fine as a px a shape is drawn, and px of it at most
LEAST_PX = 2.0  # of a shape


def _shape(default: str, title: str):
    return setting(default, title, "", "made_choice", choices=SHAPES)


def _opacity(default: float):
    return setting(default, "Its opacity", "", "share", ge=0, le=1)


class MotifsSettings(Model):
    """first, second, third : of SHAPES. own : the hash of a drawing, or nothing. Each has its
    opacity. columns, rows : cells of the tile. gap : of a cell; half of it lies outside the
    outermost. order : of the shapes. turned : how. jitter : how far shapes lie off their places.
    """

    first: str = _shape("dot", "First")
    first_opacity: float = _opacity(1.0)
    second: str = _shape("ring", "Second")
    second_opacity: float = _opacity(0.6)
    third: str = _shape("cross", "Third")
    third_opacity: float = _opacity(0.35)
    own: str = setting("", "Your own", "A drawing.", "made_artwork", pattern="^([0-9a-f]{64})?$")
    own_opacity: float = _opacity(1.0)
    columns: int = setting(16, "Columns", "", "count", ge=1, le=120)
    rows: int = setting(16, "Rows", "", "count", ge=1, le=120)
    gap: float = setting(0.35, "Gap", "Of a cell.", "share", ge=0, le=0.95)
    order: str = setting("shuffled", "Laid", "", "made_choice", choices=ORDERS)
    turned: str = setting("none", "Turned", "", "made_choice", choices=TURNS)
    jitter: float = setting(0.0, "Off their places", "", "share", ge=0, le=1)


@maker(
    "motifs",
    title="Motif grid",
    good_for="a fill, or a coat",
    settings=MotifsSettings,
    group="Light and pattern",
    starts={
        "Mixed": {},
        "Dots and rings": {"third": "none", "order": "order"},
        "Ticket ground": {
            "first": "cross",
            "second": "frame",
            "third": "dot",
            "order": "order",
            "columns": 40,
            "rows": 40,
            "gap": 0.2,
        },
        "Strewn confetti": {
            "first": "triangle",
            "second": "bar",
            "third": "drop",
            "turned": "any",
            "jitter": 0.8,
            "gap": 0.5,
        },
    },
)
def motifs(settings: MotifsSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: dark shapes on white."""
    cell = fields.width / settings.columns, fields.height / settings.rows
    side = max(LEAST_PX, (1 - settings.gap) * min(cell))
    shapes = _shapes(settings, fields, side)
    ink = np.zeros((fields.height, fields.width), np.float32)
    if not shapes:
        return to_bytes(0.97 - 0.92 * ink)
    count, ways = settings.columns * settings.rows, WAYS[settings.turned]
    rng = fields.rng
    which = np.arange(count) % settings.columns + np.arange(count) // settings.columns
    if settings.order == "shuffled":
        which = rng.integers(0, len(shapes), count)
    turns = rng.integers(0, ways, count)
    off = settings.jitter * 0.5 * (rng.random((count, 2)) - 0.5) * 2 * cell
    turned: dict[tuple[int, int], np.ndarray] = {}  # no more than there are cells
    for n in range(count):
        of = int(which[n] % len(shapes)), int(turns[n])
        if of not in turned:
            turned[of] = _turned(shapes[of[0]], 360 * of[1] / ways)
        x = (n % settings.columns + 0.5) * cell[0] + off[n, 0]
        y = (n // settings.columns + 0.5) * cell[1] + off[n, 1]
        _lay(ink, turned[of], x, y)
    return to_bytes(0.97 - 0.92 * ink)


def _lay(ink: np.ndarray, sprite: np.ndarray, x: float, y: float) -> None:
    """Over what is there, around the edges, in the nearest whole px."""
    tall, wide = sprite.shape
    rows = (round(y - tall / 2) + np.arange(tall)) % ink.shape[0]
    columns = (round(x - wide / 2) + np.arange(wide)) % ink.shape[1]
    here = np.ix_(rows, columns)
    ink[here] = ink[here] + sprite * (1 - ink[here])


def _shapes(settings: MotifsSettings, fields: Fields, side: float) -> list[np.ndarray]:
    """Coverage of each shape, times its opacity."""
    shapes = [
        _drawn(getattr(settings, name), side) * np.float32(getattr(settings, f"{name}_opacity"))
        for name in ("first", "second", "third")
        if getattr(settings, name) != "none"
    ]
    if settings.own:
        shapes.append(_own(settings.own, fields, side) * np.float32(settings.own_opacity))
    return shapes


def _turned(shape: np.ndarray, degrees: float) -> np.ndarray:
    if not degrees:
        return shape
    side = shape.shape[0]
    wide = 2 * int(np.ceil(side * 0.71)) + 2  # its corners stay on it
    matrix = cv2.getRotationMatrix2D(((side - 1) / 2, (side - 1) / 2), degrees, 1.0)
    matrix[:, 2] += (wide - side) / 2
    return np.clip(cv2.warpAffine(shape, matrix, (wide, wide), flags=cv2.INTER_CUBIC), 0, 1)


def _own(name: str, fields: Fields, side: float) -> np.ndarray:
    """How dark and how solid one's own drawing is, fitted into the square."""
    svg = fields.drawings.get(name)
    if svg is None:
        raise KilnError("The drawing of this motif is not there. Choose another one.")
    size = own_size(parsed(svg))
    px = max(1, round(side))
    scale = px / max(size)
    pixels = rasterised(svg, size, (scale, 0, 0, scale, px / 2, px / 2), px, px, scale)
    share = pixels.astype(np.float32) / 255
    light = share[..., :3] @ np.array([0.2126, 0.7152, 0.0722], np.float32)
    return share[..., 3] * (1 - 0.85 * light)


def _drawn(name: str, side: float) -> np.ndarray:
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
