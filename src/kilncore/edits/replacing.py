"""Other art in a mark's place: its place, treatment and landing stay."""

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from kilncore.edits.operation import Key, operation
from kilncore.edits.perspective import sized_anew
from kilncore.edits.tree import by_id, holder_of, items_of, layout_of, renewed, same_frame
from kilncore.errors import KilnError

Fit = Literal["box", "height", "width", "area"]
LEAST, MOST = 0.01, 100  # of a placement's scale


@operation
def replace_mark(tree: Any, mark: Key, marks: Annotated[list[dict], Field(min_length=1)]):
    """Others in a mark's place, from the bottom up, each with a treatment like its own. What was
    held in or out by it is so by the lowest of them.
    """
    holder = holder_of(tree, mark)
    gone = by_id(holder, mark)
    fresh = [{**renewed(gone), **one} for one in marks]
    fresh[0] |= {"id": gone["id"], "seed": gone["seed"]}
    at = holder.index(gone)
    holder[at : at + 1] = fresh


@operation
def replace_art(tree: Any, mark: Key, art: dict, fit: Fit = "box", name: str | None = None):
    """Art of any sort in a mark: as large as the old one's box has it, and worn where that was.

    fit : 'box' within the old box, else as high, as wide, or with as much area.
    """
    item = by_id(items_of(tree), mark)
    if item["kind"] != "mark":
        raise KilnError("The art of a group is its members.", mark)
    before = layout_of(tree)
    old = before.item(mark)[0]
    box, frame = before.box(old), before.frame(old)
    item["art"] = art
    if name is not None:
        item["name"] = name[:80]
    item["frame"] = {"x": 0.0, "y": 0.0, "unit": 1.0}
    fresh = layout_of(tree)
    drawn = fresh.box(fresh.item(mark)[0])
    scale = item["placement"].get("scale", 1) * _ratio(box, drawn, fit)
    scale = min(max(scale, LEAST), MOST)
    sized_anew(item, scale / item["placement"].get("scale", 1))
    item["placement"]["scale"] = scale
    item["frame"] = same_frame(tree, mark, frame)


def _ratio(old: Any, new: Any, fit: str) -> float:
    across, down = (
        max(a, 1e-6) / max(b, 1e-6) for a, b in ((old.width, new.width), (old.height, new.height))
    )
    ways = {"height": down, "width": across, "area": math.sqrt(across * down)}
    return ways.get(fit, min(across, down))
