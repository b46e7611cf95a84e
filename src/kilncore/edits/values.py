"""Setting values."""

from contextlib import contextmanager
from typing import Any

from pydantic import ValidationError

from kilncore.artwork import ARTS, Art
from kilncore.edits.operation import FIXED, Path, operation
from kilncore.edits.perspective import as_tall, middle_moved
from kilncore.edits.tree import at, groups_around, map_around, shift, turned_and_scaled
from kilncore.edits.working_copy import closed
from kilncore.errors import KilnError


@operation("set")
def set_value(tree: Any, path: Path, value: Any):
    """A value at a path. When words change, the mark's frame moves with the longest run of letters
    that stays.
    """
    *way, last = path
    if last in FIXED and way[-1:] not in (["art"], ["fill"]) or last not in at(tree, way):
        raise KilnError("This cannot be set.", str(path))
    holder = at(tree, way)
    with same_place(tree, way):
        holder[last] = value


@contextmanager
def same_place(tree: dict, way: list[str]):
    """What an edit within a mark's art leaves of it stays where it lies, and keeps its wear."""
    if "art" not in way:
        yield
        return
    mark = at(tree, way[: way.index("art")])
    before = closed(mark["art"], None)
    yield
    after = closed(mark["art"], None)
    try:
        before, after = (_art(one) for one in (before, after))
    except ValidationError:
        return  # the document as a whole is refused, in words
    across, down = after.frame_shift(before)
    frame = mark.setdefault("frame", {"x": 0.0, "y": 0.0, "unit": 1.0})
    frame["x"], frame["y"] = frame["x"] + across, frame["y"] + down
    _shift_middle(tree, mark, before, after)


def _art(given: Any) -> Any:
    return given if isinstance(given, Art) else ARTS.settings(given.get("kind"), given)


def _shift_middle(tree: dict, mark: dict, before: Any, after: Any) -> None:
    """Move the middle as the art says, and then so far that what is left of it has moved by whole
    px of the piece: its wear is the same to the bit.
    """
    page = tree["ppi"], tree["size_px"][1]
    if getattr(before, "text", None) != getattr(after, "text", None):
        as_tall(mark, before.box_px(*page)[1], after.box_px(*page)[1])
    own, around = turned_and_scaled(mark), map_around(groups_around(tree, mark["id"]))
    across, down = own.point(*middle_moved(tree, mark, *after.middle_shift(before, *page)))
    kept = after.kept_shift(before, *page)
    if kept is not None:
        whole = around.of(own)
        x, y = (a + b for a, b in zip(around.point(across, down), whole.point(*kept), strict=True))
        rest = around.inverse.point(round(x) - x, round(y) - y)
        across, down = across + rest[0], down + rest[1]
    if across or down:
        shift(tree, mark, across, down)
