"""The edges of a part of a piece, in its own frame: what strokes stick to, and are laid along."""

import math

import numpy as np
from pydantic import ValidationError

from kilncore.document import Piece
from kilncore.engine.outlines import outlined
from kilncore.errors import KilnError
from kilncore.graph.protocols import Assets
from kilncore.layout.layout import Layout
from kilncore.strokes import Stroke
from kilncore.strokes.scrapes import CORNERS, SIDES, scrapes
from kilncore.strokes.stroke import MOST_SEED


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


def along(
    piece: Piece, part: str, brush: Stroke, seed: int, side: str, assets: Assets
) -> list[Stroke]:
    """Strokes along the edges of a part."""
    return scrapes(loops_of(piece, part, assets), brush, seed, side)


def scraped(piece: Piece, edit: dict, assets: Assets) -> dict:
    """Strokes along the edges of a part, as `add_strokes` takes them.

    edit : {"path", "part", "brush", "seed", "side"}: the brush is a stroke without its points.
    KilnError for a side that there is not, a part without edges, or a brush that is none.
    """
    part, side, seed = edit.get("part"), edit.get("side", "all"), edit.get("seed", 0)
    if not isinstance(side, str) or side not in {**SIDES, **CORNERS}:
        raise KilnError("An edge is all of them, a side or a corner.", repr(side)[:40])
    if not isinstance(seed, int) or not 0 <= seed <= MOST_SEED or not isinstance(part, str):
        raise KilnError("An edit does not fit this piece.", repr(edit)[:200])
    found = along(piece, part, _brush(edit.get("brush")), seed, side, assets)
    if not found:
        raise KilnError("There is no edge there to go along.", side)
    told = [one.model_dump(mode="json", exclude_defaults=True) for one in found]
    return {"op": "add_strokes", "path": edit.get("path"), "strokes": told}


def _brush(told: object) -> Stroke:
    try:
        return Stroke.model_validate({**told, "points": [(0, 0)]} if isinstance(told, dict) else {})
    except ValidationError as error:
        raise KilnError(
            "These strokes cannot be laid: the tip is not told as it should be."
        ) from error
