"""Lining up: marks aligned with one another or with the piece, and spread at equal gaps."""

from typing import Any, Literal

from kilncore.edits.operation import Keys, operation
from kilncore.edits.tree import by_id, items_of, layout_of, map_around, shift
from kilncore.errors import KilnError
from kilncore.layout.layout import ItemBox, Upright, joint_box, upright

Sides = Literal["left", "middle", "right", "top", "centre", "bottom"]


@operation
def align(tree: Any, marks: Keys, to: Sides):
    """Left edges, middles or right edges across; top edges, centres or bottom edges down: of
    several those of their joint box, of one those of the piece.
    """
    boxes = _boxes(tree, marks)
    width, height = tree["size_px"]
    whole = joint_box(boxes.values()) if len(boxes) > 1 else Upright(0, 0, width, height)
    across = to in ("left", "middle", "right")
    for mark, box in boxes.items():
        by = _line(whole, to) - _line(upright(box), to)
        _move(tree, mark, (by, 0) if across else (0, by))


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
    here = getattr(first, low)
    for mark in order:
        box = boxes[mark]
        by = here - getattr(box, low)
        _move(tree, mark, (by, 0) if along == "across" else (0, by))
        here += getattr(box, high) - getattr(box, low) + gap


def _boxes(tree: dict, marks: list[str]) -> dict[str, ItemBox]:
    """Of those that can be moved: locked ones stay, and count."""
    found = layout_of(tree).boxes()
    boxes = {mark: found[mark] for mark in dict.fromkeys(marks) if mark in found}
    if not boxes or len(boxes) != len(set(marks)):
        raise KilnError("What you would line up is no longer on this piece.", str(marks)[:200])
    return boxes


def _line(box: Upright, to: str) -> float:
    ends = (box.left, box.right) if to in ("left", "middle", "right") else (box.top, box.bottom)
    return {"left": ends[0], "top": ends[0], "right": ends[1], "bottom": ends[1]}.get(
        to, sum(ends) / 2
    )


def _move(tree: dict, mark: str, by: tuple[float, float]) -> None:
    item = by_id(items_of(tree), mark)
    if item.get("locked") or not any(by):
        return
    shift(tree, item, *map_around(tree, mark).inverse.point(*by))
