"""The edges of a part of a piece, in its own frame: what strokes stick to, and are laid along."""

import math

import numpy as np

from kilncore.document import Piece
from kilncore.engine.outlines import outlined
from kilncore.errors import KilnError
from kilncore.graph.protocols import Assets
from kilncore.layout.layout import Layout
from kilncore.strokes import Stroke
from kilncore.strokes.scrapes import SIDES, scrapes


def loops_of(piece: Piece, part: str, assets: Assets) -> list[np.ndarray]:
    """Closed outlines, (N, 2): of a mark or group, or of the page."""
    frame = _frame(piece, part)
    if part in ("ground", "piece"):
        width, height = piece.size_px
        page = [np.array([(0, 0), (width, 0), (width, height), (0, height)], float)]
    else:
        page = _on_page(piece, part, assets)
    if frame.projection:
        page = [np.asarray(frame.projection.flat_of(loop)) for loop in page]
    cos, sin = math.cos(frame.rotation), math.sin(frame.rotation)
    back = np.array([(cos, -sin), (sin, cos)])  # of row vectors, turned back
    return [(loop - (frame.x, frame.y)) @ back / frame.unit_px for loop in page]


def _on_page(piece: Piece, part: str, assets: Assets) -> list[np.ndarray]:
    region = outlined(piece, part, assets)
    low = np.array(
        [region.x.value - region.width.value / 2, region.y.value - region.height.value / 2]
    )
    size = np.array([region.width.value, region.height.value])
    return [low + np.array(loop) * size for loop in region.outline]


def _frame(piece: Piece, part: str):
    layout = Layout(piece)
    if part in ("ground", "piece"):
        return layout.page_frame
    frame = layout.frames().get(part)
    if frame is None:
        raise KilnError("This part is no longer on the piece.", part)
    return frame


def across(piece: Piece, part: str) -> tuple[float, float]:
    """(width, height) of a part, in its own frame."""
    unit = _frame(piece, part).unit_px
    if part in ("ground", "piece"):
        width, height = piece.size_px
    else:
        box = Layout(piece).box(piece.item(part))
        width, height = box.width, box.height
    return width / unit, height / unit


def scraped(
    piece: Piece, part: str, brush: Stroke, seed: int, side: str, assets: Assets
) -> list[Stroke]:
    """Strokes along the edges of a part; KilnError for a side that there is not."""
    if side not in SIDES:
        raise KilnError("An edge is all of them, or the top, right, bottom or left.", side)
    return scrapes(loops_of(piece, part, assets), brush, seed, side)
