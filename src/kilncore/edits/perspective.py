"""Items set in perspective: by four corners on the piece, or round a cylinder; and what keeps them
where they lie when what they are in changes.
"""

import math
from typing import Any, Literal

import numpy as np
from pydantic import ValidationError

from kilncore.edits.arranging import Point
from kilncore.edits.operation import Key, operation
from kilncore.edits.tree import by_id, items_of, layout_of
from kilncore.edits.working_copy import closed
from kilncore.errors import KilnError
from kilncore.geometry.affine import Affine
from kilncore.layout.layout import Layout
from kilncore.model.perspective import LEAST_SIDE, Corners, Round, corners_of
from kilncore.model.units import Length
from kilncore.perspective.homography import Homography, convex
from kilncore.perspective.projection import Projection

ROUND = 120  # degrees that what is wrapped goes round, at first
CROSSED = (
    "Four corners must go round in order, none of them inside the other three: these cross or lie "
    "in one line. The last corners were kept. Drag this corner back to its own side."
)
STEEP = (
    "These corners are too steep: part of this would lie behind your eye. The last corners were "
    "kept. Drag the near side smaller, or the far side larger."
)
WRAPPED = (
    "What is wrapped round a cylinder can only be put into, or taken out of, what lies flat. "
    "Nothing was changed. Lay it flat first, and wrap it again afterwards."
)


@operation
def set_in_perspective(tree: Any, mark: Key, way: Literal["flat", "corners", "round"]):
    """Laid flat; by four corners, which begin where they lie flat; or wrapped round a cylinder."""
    item = by_id(items_of(tree), mark)
    now = item["placement"].get("perspective")
    if way == "flat":
        item["placement"]["perspective"] = None
    elif now is None or now["kind"] != way:
        width, height = layout_of(tree).size(mark)
        item["placement"]["perspective"] = _begun(way, width, height).model_dump(mode="json")


def _begun(way: str, width: float, height: float) -> Corners | Round:
    if way == "corners":
        return corners_of(Homography.of_affine(Affine(1, 0, 0, 1, 0, 0)), width, height)
    radius = width / math.radians(ROUND)
    return Round(radius=Length(value=round(100 * radius / max(height, LEAST_SIDE), 1), unit="%"))


@operation
def lay_corners(tree: Any, mark: Key, corners: list[Point]):
    """The upper left, upper right, lower right and lower left corner of an item, in px of the
    piece.
    """
    if len(corners) != 4 or not convex(corners):
        raise KilnError(CROSSED, str(corners)[:200])
    layout = layout_of(tree)
    item, group = layout.item(mark)
    around = layout.projection(group) if group else None
    flat = around.flat_of(corners) if around else np.array(corners, float)
    back = layout.map(item).inverse
    width, height = layout.size(mark)
    own = tuple(back.point(float(x), float(y)) for x, y in flat)
    try:
        laid = Corners(width=max(width, LEAST_SIDE), height=max(height, LEAST_SIDE), corners=own)
    except (ValidationError, np.linalg.LinAlgError) as error:
        raise KilnError(STEEP if "steep" in str(error) else CROSSED, str(corners)[:200]) from error
    placed = by_id(items_of(tree), mark)["placement"]
    placed["perspective"] = laid.model_dump(mode="json")


def stays_in(layout: Layout, mark: str, into: str | None) -> dict | None:
    """The perspective with which an item lies where it does, in another group or in none;
    KilnError where there is none.
    """
    item, _ = layout.item(mark)
    now = layout.projection(item)
    around = layout.projection(layout.item(into)[0]) if into else None
    own, group = item.placement.perspective, layout.item(mark)[1]
    if around is None and (group is None or layout.projection(group) is None):
        return own.model_dump(mode="json") if own else None
    flat = layout.map(item)
    parts = [flat, *(now.parts if now else ()), *_undone(around), flat.inverse]
    joined = Projection.chain(*parts)
    if len(joined.parts) > 1 or not isinstance(joined.parts[0], Homography):
        raise KilnError(WRAPPED, mark)
    plane = joined.parts[0]
    if np.allclose(plane.array / plane.array[2, 2], np.eye(3), atol=1e-9):
        return None
    return _corners(plane, layout.size(mark))


def _undone(around: Projection | None) -> list[Homography]:
    parts = around.parts if around else ()
    if any(not isinstance(one, Homography) for one in parts):
        raise KilnError(WRAPPED)
    planes = [one for one in reversed(parts) if isinstance(one, Homography)]
    return [Homography(tuple(map(float, np.linalg.inv(one.array).ravel()))) for one in planes]


def _corners(plane: Homography, size: tuple[float, float]) -> dict:
    try:
        plane = Homography(tuple(n / plane.matrix[8] for n in plane.matrix))
        return corners_of(plane, *size).model_dump(mode="json")
    except (ValueError, ZeroDivisionError) as error:
        raise KilnError(STEEP) from error


def middle_moved(tree: dict, item: dict, across: float, down: float) -> tuple[float, float]:
    """How far an item's middle moves, in its own size, when an edit moves the middle of its art so
    far; its perspective becomes the one with which what is left of it stays where it lies.
    """
    now = item["placement"].get("perspective")
    if not now or not (across or down):
        return across, down
    if now["kind"] == "round":
        return _axis_stays(tree, item, across, down)
    plane = Corners.model_validate(closed(now, None)).plane
    moved = Projection.chain(
        Affine(1, 0, 0, 1, across, down), plane, Affine(1, 0, 0, 1, -across, -down)
    )
    (joined,) = moved.parts
    assert isinstance(joined, Homography)
    item["placement"]["perspective"] = _corners(joined, (now["width"], now["height"]))
    return across, down


def _axis_stays(tree: dict, item: dict, across: float, down: float) -> tuple[float, float]:
    now = Round.model_validate(closed(item["placement"]["perspective"], None))
    layout = layout_of(tree)
    placed, height = layout.map(layout.item(item["id"])[0]), layout.size(item["id"])[1]
    lean, tilt = math.radians(now.axis_deg), math.radians(now.tilt_deg)
    turned = Affine.similarity(0, 0, 1, lean)
    x, y = turned.inverse.point(across, down)
    unit = {
        "%": max(height, 1e-6) / 100,
        "px": 1 / placed.scale,
        "mm": tree["ppi"] / 25.4 / placed.scale,
    }
    axis = now.axis.value - x / unit[now.axis.unit]
    item["placement"]["perspective"]["axis"] = {"value": axis, "unit": now.axis.unit}
    dx, dy = turned.point(0.0, y * (math.cos(tilt) - 1))
    return across + dx, down + dy


def as_tall(item: dict, before: float, after: float) -> None:
    """A cylinder that is told in % of an item's height stays as large when its words need more
    lines, or fewer. before, after : the height.
    """
    now = item["placement"].get("perspective")
    if now and now["kind"] == "round" and min(before, after) > 0:
        for name in ("radius", "axis"):
            if now[name]["unit"] == "%":
                now[name]["value"] *= before / after


def sized_anew(item: dict, ratio: float) -> None:
    """Corners as they lie when the item's own px become so many times as large."""
    now = item["placement"].get("perspective")
    if now and now["kind"] == "corners":
        now |= {side: now[side] / ratio for side in ("width", "height")}
        now["corners"] = [[x / ratio, y / ratio] for x, y in now["corners"]]
