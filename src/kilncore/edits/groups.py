"""Groups: made, dissolved, put into and taken out of. Nothing moves on the piece by it."""

from typing import Any

from kilncore.document import new_seed
from kilncore.edits.operation import Key, Keys, Place, operation
from kilncore.edits.perspective import middle_moved, stays_in
from kilncore.edits.tree import (
    by_id,
    groups_around,
    holder_of,
    items_of,
    layout_of,
    let_go,
    map_of_what_holds,
    put,
    px,
    same_frame,
    shift,
    tidied,
    turned_and_scaled,
)
from kilncore.errors import KilnError
from kilncore.geometry.affine import Affine
from kilncore.landing import Landing
from kilncore.layout.layout import joint_box
from kilncore.model.base import new_id
from kilncore.model.frame import Frame


@operation
def group(tree: Any, marks: Keys):
    """Marks and groups treated as one from now on, where the topmost of them was; they stay where
    they lie.
    """
    holder = holder_of(tree, marks[0]) if marks else []
    chosen = [item for item in holder if item["id"] in marks]
    if len(chosen) != len(set(marks)) or not chosen:
        raise KilnError("A group is made of marks that lie in one group, or in none.", str(marks))
    layout = layout_of(tree)
    around = map_of_what_holds(tree, layout, chosen[0]["id"])
    boxes, ids = layout.boxes(), {item["id"] for item in chosen}
    middle = joint_box([boxes[one] for one in ids]).middle
    outer = layout.item(chosen[0]["id"])[1]
    projection = layout.projection(outer) if outer else None
    if projection is not None:
        middle = projection.flat_of([middle])[0].tolist()
    middle = around.inverse.point(*middle)
    made = {
        "kind": "group",
        "id": new_id(),
        "seed": new_seed(),
        "members": chosen,
        "treatment": [],
        "placement": {"x": px(middle[0]), "y": px(middle[1])},
        "landing": Landing().model_dump(mode="json"),
    }
    own = around.of(Affine(1, 0, 0, 1, *middle))
    for item in chosen:
        put(item, layout.map(layout.item(item["id"])[0]), own)
    holder.insert(holder.index(chosen[-1]) + 1, made)
    holder[:] = [item for item in holder if item["id"] not in ids]


@operation
def ungroup(tree: Any, group: Key):
    """The members alone again, where they lay. The group's own treatment goes with it,
    and so does what it held in or out."""
    holder = holder_of(tree, group)
    gone = by_id(holder, group)
    if "members" not in gone:
        raise KilnError("This is a mark, not a group.", group)
    layout = layout_of(tree)
    around = map_of_what_holds(tree, layout, group)
    outer = layout.item(group)[1]
    lies = {
        member["id"]: stays_in(layout, member["id"], outer.id if outer else None)
        for member in gone["members"]
    }
    for member in gone["members"]:
        put(member, layout.map(layout.item(member["id"])[0]), around)
        member["placement"]["perspective"] = lies[member["id"]]
    at = holder.index(gone)
    holder[at : at + 1] = gone["members"]
    let_go(tree, {group})


@operation
def place_mark(tree: Any, mark: Key, into: Key | None = None, to: Place = 1000):
    """A mark or group put into a group, or taken out of all (None), at that place there; it stays
    where it lies. A group that it leaves empty goes.
    """
    holder = holder_of(tree, mark)
    item = by_id(holder, mark)
    inner = {one["id"] for one in items_of({"stack": item.get("members", [])})}
    if into is not None and (into == mark or into in inner):
        raise KilnError("A group cannot be put into itself.", str(into))
    target = tree["stack"] if into is None else by_id(items_of(tree), into).get("members")
    if target is None:
        raise KilnError("A mark can only be put into a group.", str(into))
    layout = layout_of(tree)
    placed = layout.map(layout.item(mark)[0])
    around = layout.map(layout.item(into)[0]) if into else Affine(1, 0, 0, 1, 0, 0)
    changed = {group["id"] for group in groups_around(tree, mark)} | ({into} if into else set())
    lies = stays_in(layout, mark, into)
    frames = {one: layout.frame(layout.item(one)[0]) for one in changed}
    at = holder.index(item)
    holder.remove(item)
    if target is not holder:
        put(item, placed, around)
        item["placement"]["perspective"] = lies
    elif at < to:
        to -= 1  # places are counted with it still there
    target.insert(max(0, min(to, len(target))), item)
    tidied(tree)
    for one in items_of(tree):
        if one["id"] in frames:
            _settled(tree, one, frames[one["id"]])


def _settled(tree: dict, group: dict, frame: Frame) -> None:
    """A group's middle in the middle of its members again; its frame, and so the wear of what it
    holds, where it lay.
    """
    layout = layout_of(tree)
    item: Any = layout.item(group["id"])[0]
    across, down = layout.middle_of_members(item)
    for member in group["members"]:
        shift(tree, member, -across, -down)
    by = middle_moved(tree, group, across, down)
    shift(tree, group, *turned_and_scaled(group).point(*by))
    group["frame"] = {"x": 0.0, "y": 0.0, "unit": 1.0}
    group["frame"] = same_frame(tree, group["id"], frame)
