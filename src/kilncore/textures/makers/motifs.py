"""Motif grid: small shapes, one's own among them, in rows and columns, as one flat tile.

Each shape is drawn once for each way it is turned, and laid on the tile as many times as there are
cells: the tile holds pixels, never thousands of objects.
"""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.system.opencv import cv2
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.shapes import SHAPES, drawn, lay, own_drawing
from kilncore.textures.makers.parts.tones import to_bytes

ORDERS = (("order", "In order"), ("shuffled", "Shuffled"))
TURNS = (("none", "Not"), ("quarter", "By quarters"), ("any", "Any way"))
WAYS = {"none": 1, "quarter": 4, "any": 24}
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
        lay(ink, turned[of], x, y)
    return to_bytes(0.97 - 0.92 * ink)


def _shapes(settings: MotifsSettings, fields: Fields, side: float) -> list[np.ndarray]:
    """Coverage of each shape, times its opacity."""
    shapes = [
        drawn(getattr(settings, name), side) * np.float32(getattr(settings, f"{name}_opacity"))
        for name in ("first", "second", "third")
        if getattr(settings, name) != "none"
    ]
    if settings.own:
        shapes.append(own_drawing(settings.own, fields, side) * np.float32(settings.own_opacity))
    return shapes


def _turned(shape: np.ndarray, degrees: float) -> np.ndarray:
    if not degrees:
        return shape
    side = shape.shape[0]
    wide = 2 * int(np.ceil(side * 0.71)) + 2  # its corners stay on it
    matrix = cv2.getRotationMatrix2D(((side - 1) / 2, (side - 1) / 2), degrees, 1.0)
    matrix[:, 2] += (wide - side) / 2
    return np.clip(cv2.warpAffine(shape, matrix, (wide, wide), flags=cv2.INTER_CUBIC), 0, 1)
