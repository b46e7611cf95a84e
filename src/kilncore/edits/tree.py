"""Finding and moving things in the JSON tree of a document."""

import copy
import math
from collections.abc import MutableMapping
from typing import Any

from kilncore.document import Piece, load, new_seed
from kilncore.edits.working_copy import WorkingCopy
from kilncore.errors import KilnError
from kilncore.geometry.affine import Affine
from kilncore.layout.layout import Layout
from kilncore.model.base import new_id
from kilncore.model.frame import Frame
from kilncore.model.units import Length

Tree = MutableMapping[str, Any]  # a document, or a working copy of one

GONE = "What you changed is no longer on this piece."


def child(node: Any, key: str):
    """A value of an object, or the one of a list that has this id."""
    return by_id(node, key) if isinstance(node, list) else node[key]


def by_id(items: list, item_id: str) -> dict:
    """The one of a list that has this id; KilnError if none has."""
    for item in items:
        if item["id"] == item_id:
            return item
    raise KilnError(GONE, str(item_id))


def at(tree: WorkingCopy | dict, way: list):
    """What lies at a path."""
    node = tree
    for key in way:
        node = child(node, key)
    return node


def items_of(tree: Tree) -> list[dict]:
    """All marks and groups, bottom up, a group before its members."""
    return _within(tree["stack"])


def _within(items: list) -> list[dict]:
    return [one for item in items for one in (item, *_within(item.get("members", [])))]


def holders_of(tree: Tree) -> list[list]:
    """The lists that items are in: the stack, and every group's members."""
    return [tree["stack"], *(item["members"] for item in items_of(tree) if "members" in item)]


def holder_of(tree: Tree, item_id: str) -> list:
    """The list that a mark or group is in."""
    for items in holders_of(tree):
        if any(item["id"] == item_id for item in items):
            return items
    raise KilnError(GONE, str(item_id))


def lineage(tree: Tree) -> dict[str, tuple[dict, tuple[dict, ...]]]:
    """Every item, and the groups that it is in, the outermost first, by its id."""
    kin: dict[str, tuple] = {}
    waiting: list[tuple] = [(item, ()) for item in tree["stack"]]
    while waiting:
        item, groups = waiting.pop()
        kin[item["id"]] = item, groups
        waiting += [(member, (*groups, item)) for member in item.get("members", ())]
    return kin


def groups_around(tree: Tree, item_id: str) -> tuple[dict, ...]:
    """The groups that an item is in, the outermost first."""
    return lineage(tree).get(item_id, (None, ()))[1]


def treatment_of(tree: Tree, part: str) -> list:
    """Of the ground, the piece, or an item."""
    if part == "piece":
        return tree["treatment"]
    return (tree["ground"] if part == "ground" else by_id(items_of(tree), part))["treatment"]


def treatments_of(tree: Tree) -> list[list]:
    """All of them."""
    return [
        tree["ground"]["treatment"],
        tree["treatment"],
        *(item["treatment"] for item in items_of(tree)),
    ]


def holding(tree: Tree, step: str) -> list:
    """The treatment that a step is in."""
    for treatment in treatments_of(tree):
        if any(item["id"] == step for item in treatment):
            return treatment
    raise KilnError("This step is no longer on the piece.", str(step))


def landings_of(tree: Tree) -> list[dict]:
    """Of all items and of all steps."""
    items = [item["landing"] for item in items_of(tree)]
    return items + [step["landing"] for steps in treatments_of(tree) for step in steps]


def moved(items: list, item_id: str, to: int) -> None:
    """Move one of a list to another place in it."""
    item = by_id(items, item_id)
    items.remove(item)
    items.insert(max(0, min(int(to), len(items))), item)


def tidied(tree: Tree) -> None:
    """Take out groups that are empty, and those that this leaves empty."""
    for items in reversed(holders_of(tree)):
        let_go(tree, {item["id"] for item in items if item.get("members") == []})
        items[:] = [item for item in items if item.get("members") != []]


def let_go(tree: Tree, ids: set[str]) -> None:
    """What these marks and groups hold in or out is held by them no more."""
    for landing in landings_of(tree) if ids else ():
        landing["limits"] = [limit for limit in landing["limits"] if limit.get("mark") not in ids]


def renewed(item: dict) -> dict:
    """The same with ids and seeds of its own; steps keep their seeds, as recipes do."""
    twin = copy.deepcopy(item)
    twin |= {
        "id": new_id(),
        "seed": new_seed(),
        "treatment": [{**s, "id": new_id()} for s in twin["treatment"]],
    }
    return twin | (
        {"members": [renewed(member) for member in twin["members"]]} if "members" in twin else {}
    )


def piece_of(tree: Tree) -> Piece:
    """The tree as a document."""
    now: Any = tree.closed() if isinstance(tree, WorkingCopy) else tree
    return now if isinstance(now, Piece) else load(now, same_parts=True)


def layout_of(tree: Tree) -> Layout:
    """Where its items lie."""
    return Layout(piece_of(tree))


def px(value: float) -> dict:
    """A length in px."""
    return {"value": value, "unit": "px"}


def turn(degrees: float) -> float:
    """-180 up to 180."""
    return (degrees + 180) % 360 - 180


def shift(tree: Tree, item: dict, dx: float, dy: float) -> None:
    """Move an item in what it lies in, whatever the unit of its place."""
    for axis, by in (("x", dx), ("y", dy)):
        length = Length.model_validate(item["placement"][axis])
        item["placement"][axis] = px(length.in_px(tree["ppi"], tree["size_px"][1]) + by)


def moved_within(
    tree: Tree, item_id: str, groups: tuple[dict, ...], by: tuple[float, float]
) -> tuple[float, float]:
    """How far an item moves, as the group that it is in would lie flat, when it moves so far on the
    piece. groups : those that it is in.
    """
    if not any(group["placement"].get("perspective") for group in groups):
        return by
    layout = layout_of(tree)
    item, group = layout.item(item_id)
    projection = layout.projection(group) if group else None
    if projection is None:
        return by
    placed = layout.map(item)
    (x, y) = projection.points([(placed.e, placed.f)])[0]
    flat = projection.flat_of([(x + by[0], y + by[1])])[0]
    return float(flat[0] - placed.e), float(flat[1] - placed.f)


def map_around(groups: tuple[dict, ...]) -> Affine:
    """From what an item's place is counted in to the piece: the maps of the groups that it is in,
    their places left out.
    """
    around = Affine(1, 0, 0, 1, 0, 0)
    for group in groups:
        around = around.of(turned_and_scaled(group))
    return around


def map_of_what_holds(tree: Tree, layout: Layout, item_id: str) -> Affine:
    """The map of the group that an item is in; of the piece, if it is in none."""
    groups = groups_around(tree, item_id)
    return layout.map(layout.item(groups[-1]["id"])[0]) if groups else Affine(1, 0, 0, 1, 0, 0)


def outermost(tree: Tree, ids: list[str]) -> list[str]:
    """Those that lie in no other one of them; KilnError if one is not there."""
    chosen, kin = set(ids), lineage(tree)
    if gone := chosen - kin.keys():
        raise KilnError(GONE, str(sorted(gone)[0]))
    return [
        one for one in dict.fromkeys(ids) if not any(group["id"] in chosen for group in kin[one][1])
    ]


def same_frame(tree: Tree, item_id: str, frame: Frame) -> dict:
    """The shift with which an item's frame, which has none of its own now, lies where another one
    lay, as large as that.
    """
    layout = layout_of(tree)
    item = layout.item(item_id)[0]
    placed, bare = layout.map(item), layout.frame(item)
    own = placed.inverse.point(bare.x, bare.y)
    there = placed.inverse.point(frame.x, frame.y)
    unit = bare.unit_px / placed.scale
    return {
        "x": (there[0] - own[0]) / unit,
        "y": (there[1] - own[1]) / unit,
        "unit": min(max(frame.unit_px / bare.unit_px, 1e-3), 1e4),
    }


def turned_and_scaled(item: dict) -> Affine:
    """The map of an item's own placement, its place left out."""
    place = item["placement"]
    turned = math.radians(place.get("rotation_deg", 0))
    return Affine.similarity(0, 0, place.get("scale", 1), turned)


def put(item: dict, placed: Affine, around: Affine) -> None:
    """Give an item the place at which it lies as `placed` has it on the piece, within what has the
    map `around`.
    """
    x, y = around.inverse.point(placed.e, placed.f)
    item["placement"] = {
        **item["placement"],
        "x": px(x),
        "y": px(y),
        "scale": placed.scale / around.scale,
        "rotation_deg": turn(math.degrees(placed.rotation - around.rotation)),
    }
