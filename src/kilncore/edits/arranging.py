"""Several marks at once: moved together, aligned with one another or with the piece, and spread at
equal gaps.
"""

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from kilncore.edits.operation import Keys, operation
from kilncore.edits.tree import (
    layout_of,
    lineage,
    map_around,
    map_of_what_holds,
    moved_within,
    outermost,
    put,
    shift,
)
from kilncore.errors import KilnError
from kilncore.geometry.affine import Affine
from kilncore.layout.layout import ItemBox, Upright, joint_box, upright

Point = Annotated[list[Annotated[float, Field(ge=-1e6, le=1e6)]], Field(min_length=2, max_length=2)]
Sides = Literal["left", "middle", "right", "top", "centre", "bottom"]


@operation
def transform_marks(
    tree: Any,
    marks: Keys,
    about: Point,
    by: Point | None = None,
    scale: Annotated[float, Field(ge=0.001, le=1000)] = 1.0,
    turn: Annotated[float, Field(ge=-3600, le=3600)] = 0.0,
):
    """Several moved, scaled and turned together about a point of the piece. turn : degrees,
    clockwise.
    """
    by = by or [0.0, 0.0]
    if scale == 1 and not turn:
        kin = lineage(tree)
        for mark in outermost(tree, marks):
            _move(tree, kin, mark, by)
        return
    layout, kin = layout_of(tree), lineage(tree)
    spun = Affine.similarity(about[0] + by[0], about[1] + by[1], scale, math.radians(turn))
    way = spun.of(Affine(1, 0, 0, 1, -about[0], -about[1]))
    for mark in outermost(tree, marks):
        item = kin[mark][0]
        if item.get("locked"):
            continue
        around = map_of_what_holds(tree, layout, mark)
        put(item, way.of(layout.map(layout.item(mark)[0])), around)


@operation
def align(tree: Any, marks: Keys, to: Sides):
    """Left edges, middles or right edges across; top edges, centres or bottom edges down: of
    several those of their joint box, of one those of the piece.
    """
    boxes = _boxes(tree, marks)
    width, height = tree["size_px"]
    whole = joint_box(boxes.values()) if len(boxes) > 1 else Upright(0, 0, width, height)
    across, kin = to in ("left", "middle", "right"), lineage(tree)
    for mark, box in boxes.items():
        by = _line(whole, to) - _line(upright(box), to)
        _move(tree, kin, mark, (by, 0) if across else (0, by))


@operation
def spread(tree: Any, marks: Keys, along: Literal["across", "down"]):
    """At equal gaps; the outermost two stay."""
    boxes = {mark: upright(box) for mark, box in _boxes(tree, marks).items()}
    if len(boxes) < 3:
        raise KilnError("Choose three marks or more to spread them.")
    low, high = ("left", "right") if along == "across" else ("top", "bottom")
    order = sorted(boxes, key=lambda mark: getattr(boxes[mark], low) + getattr(boxes[mark], high))
    first, last = boxes[order[0]], boxes[order[-1]]
    inner = sum(getattr(box, high) - getattr(box, low) for box in boxes.values())
    gap = (getattr(last, high) - getattr(first, low) - inner) / (len(order) - 1)
    here, kin = getattr(first, low), lineage(tree)
    for mark in order:
        box = boxes[mark]
        by = here - getattr(box, low)
        _move(tree, kin, mark, (by, 0) if along == "across" else (0, by))
        here += getattr(box, high) - getattr(box, low) + gap


def _boxes(tree: dict, marks: list[str]) -> dict[str, ItemBox]:
    """Of the outermost of them: what lies in a group that is chosen too goes along with it."""
    every = layout_of(tree).boxes()
    boxes = {mark: every[mark] for mark in outermost(tree, marks)}
    if not boxes:
        raise KilnError("Choose the marks to line up.")
    return boxes


def _line(box: Upright, to: str) -> float:
    ends = (box.left, box.right) if to in ("left", "middle", "right") else (box.top, box.bottom)
    return {"left": ends[0], "top": ends[0], "right": ends[1], "bottom": ends[1]}.get(
        to, sum(ends) / 2
    )


def _move(tree: dict, kin: dict, mark: str, by: Any) -> None:
    item, groups = kin[mark]
    if item.get("locked") or not any(by):
        return
    by = moved_within(tree, mark, groups, by)
    shift(tree, item, *map_around(groups).inverse.point(*by))
