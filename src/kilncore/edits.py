"""Edits: how a document changes. Each is a small, named operation on the JSON tree; the result is validated whole.

    {"op": "set", "path": ["stack", MARK, "treatment", STEP, "params", "black"], "value": 0.2}
    {"op": "add_step", "part": PART, "kind": "wear", "params": {...}, "at": 0}
    {"op": "remove_step" | "copy_step", "step": STEP}      {"op": "move_step", "step": STEP, "to": 2}
    {"op": "add_mark", "mark": {...}}                      {"op": "move_mark", "mark": MARK, "to": 0}
    {"op": "remove_mark" | "copy_mark", "mark": MARK}
    {"op": "group", "marks": [MARK, ...]}                  {"op": "ungroup", "group": GROUP}

PART is 'ground', 'piece' or the id of a mark or group; a group is moved, removed and copied as a mark is. Lists are addressed by the ids of what they hold.
"""

import copy
from collections.abc import Callable

from kilncore.document import Piece, load, new_id, new_seed
from kilncore.engine.plan import Plan
from kilncore.errors import KilnError
from kilncore.landing import Landing
from kilncore.steps import kind_named
from kilncore.units import Length

MAX_EDITS = 50
COPY_OFFSET_PX = 40
FIXED = {"format", "id", "kind", "seed", "rev"}
OPERATIONS: dict[str, Callable] = {}


def apply(piece: Piece, edits: list[dict]) -> Piece:
    """The piece after the edits, all of them or (KilnError) none."""
    if not isinstance(edits, list) or len(edits) > MAX_EDITS:
        raise KilnError(f"A change must be a list of {MAX_EDITS} edits at most.")
    tree = piece.model_dump(mode="json")
    for edit in edits:
        operation = OPERATIONS.get(edit.get("op")) if isinstance(edit, dict) else None
        if operation is None:
            raise KilnError(f"An edit must be one of: {', '.join(OPERATIONS)}.", str(edit)[:200])
        try:
            operation(tree, **{key: value for key, value in edit.items() if key != "op"})
        except (TypeError, KeyError, ValueError, IndexError, AttributeError) as error:
            raise KilnError("An edit does not fit this piece.", f"{edit!r}: {error}"[:300]) from error
    return load(tree)


def _operation(function):
    OPERATIONS[function.__name__] = function
    return function


def _child(node, key):
    if isinstance(node, list):
        return _by_id(node, key)
    return node[key]


def _by_id(items: list, id: str):
    for item in items:
        if item["id"] == id:
            return item
    raise KilnError("What you changed is no longer on this piece.", str(id))


def _items(tree: dict) -> list:
    return [item for top in tree["stack"] for item in (top, *top.get("members", ()))]


def _holder(tree: dict, id: str) -> list:
    """The list that a mark or group is in: the stack, or a group's members."""
    for items in (tree["stack"], *(group["members"] for group in tree["stack"] if "members" in group)):
        if any(item["id"] == id for item in items):
            return items
    raise KilnError("What you changed is no longer on this piece.", str(id))


def _treatment(tree: dict, part: str) -> list:
    if part == "piece":
        return tree["treatment"]
    return (tree["ground"] if part == "ground" else _by_id(_items(tree), part))["treatment"]


def _holding(tree: dict, step: str) -> list:
    for treatment in (tree["ground"]["treatment"], tree["treatment"], *(item["treatment"] for item in _items(tree))):
        if any(item["id"] == step for item in treatment):
            return treatment
    raise KilnError("This step is no longer on the piece.", str(step))


def _moved(items: list, id: str, to: int) -> None:
    item = _by_id(items, id)
    items.remove(item)
    items.insert(max(0, min(int(to), len(items))), item)


@_operation
def set(tree, path, value):
    *way, last = path
    if last in FIXED and way[-1:] not in (["art"], ["fill"]) or last not in _parent(tree, way):
        raise KilnError("This cannot be set.", str(path))
    _parent(tree, way)[last] = value


def _parent(tree, way):
    node = tree
    for key in way:
        node = _child(node, key)
    return node


@_operation
def add_step(tree, part, kind, params=None, at=None):
    treatment = _treatment(tree, part)
    landing = kind_named(kind).landing.model_dump()
    step = {"id": new_id(), "kind": kind, "params": params or {}, "landing": landing}
    treatment.insert(len(treatment) if at is None else int(at), step)


@_operation
def remove_step(tree, step):
    treatment = _holding(tree, step)
    treatment.remove(_by_id(treatment, step))


@_operation
def copy_step(tree, step):
    treatment = _holding(tree, step)
    twin = {**copy.deepcopy(_by_id(treatment, step)), "id": new_id()}
    treatment.insert(treatment.index(_by_id(treatment, step)) + 1, twin)


@_operation
def move_step(tree, step, to):
    _moved(_holding(tree, step), step, to)


@_operation
def add_mark(tree, mark):
    tree["stack"].append({"kind": "mark", **mark, "id": mark.get("id") or new_id()})


@_operation
def remove_mark(tree, mark):
    """Gone, and with it what it held in or out; a group that it leaves empty goes too."""
    holder = _holder(tree, mark)
    gone = _by_id(holder, mark)
    holder.remove(gone)
    tree["stack"][:] = [item for item in tree["stack"] if item.get("members") != []]
    ids = {gone["id"], *(member["id"] for member in gone.get("members", ()))}
    for landing in _landings(tree):
        landing["limits"] = [limit for limit in landing["limits"] if limit.get("mark") not in ids]


def _landings(tree: dict) -> list:
    treatments = (tree["ground"]["treatment"], tree["treatment"], *(item["treatment"] for item in _items(tree)))
    return [item["landing"] for item in _items(tree)] + [step["landing"] for steps in treatments for step in steps]


@_operation
def copy_mark(tree, mark):
    """A twin beside the mark, with a seed of its own: no two marks are worn alike."""
    holder = _holder(tree, mark)
    twin = _renewed(_by_id(holder, mark))
    for axis in ("x", "y"):
        if twin["placement"][axis]["unit"] == "px":
            twin["placement"][axis]["value"] += COPY_OFFSET_PX
    holder.append(twin)


def _renewed(item: dict) -> dict:
    """The same with ids and seeds of its own; steps keep their seeds, as recipes do."""
    twin = copy.deepcopy(item)
    twin |= {"id": new_id(), "seed": new_seed(), "treatment": [{**s, "id": new_id()} for s in twin["treatment"]]}
    return twin | ({"members": [_renewed(member) for member in twin["members"]]} if "members" in twin else {})


@_operation
def move_mark(tree, mark, to):
    _moved(_holder(tree, mark), mark, to)


@_operation
def group(tree, marks):
    """Marks treated as one from now on, where the topmost of them was; they stay where they lie."""
    chosen = [item for item in tree["stack"] if item["id"] in marks]
    if len(chosen) != len(marks) or not chosen or any("members" in item for item in chosen):
        raise KilnError("A group is made of marks on this piece that are in no group yet.", str(marks))
    x, y = _middle_of(tree, {item["id"] for item in chosen})
    top = tree["stack"].index(chosen[-1])
    for item in chosen:
        _shift(tree, item, -x, -y)
    made = {"kind": "group", "id": new_id(), "seed": new_seed(), "members": chosen, "treatment": [],
            "placement": {"x": _px(x), "y": _px(y)}, "landing": Landing().model_dump(mode="json")}
    tree["stack"].insert(top + 1, made)
    tree["stack"][:] = [item for item in tree["stack"] if item not in chosen]


@_operation
def ungroup(tree, group):
    """The members alone again, where they lay. The group's own treatment goes with it."""
    gone = _by_id(tree["stack"], group)
    boxes = Plan(load(copy.deepcopy(tree))).boxes()
    for member in gone["members"]:
        box = boxes[member["id"]]
        scale = member["placement"]["scale"] * gone["placement"]["scale"]
        member["placement"] = {"x": _px(box.x), "y": _px(box.y), "scale": scale, "rotation_deg": _turn(box.rotation_deg)}
    at = tree["stack"].index(gone)
    tree["stack"][at : at + 1] = gone["members"]


def _px(value: float) -> dict:
    return {"value": value, "unit": "px"}


def _turn(degrees: float) -> float:
    return (degrees + 180) % 360 - 180


def _middle_of(tree: dict, ids) -> tuple[float, float]:
    boxes = [box for id, box in Plan(load(copy.deepcopy(tree))).boxes().items() if id in ids]
    corners = [corner for box in boxes for corner in box.corners()]
    xs, ys = zip(*corners, strict=True)
    return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2


def _shift(tree: dict, item: dict, dx: float, dy: float) -> None:
    """Move an item, whatever the unit of its place."""
    for axis, by in (("x", dx), ("y", dy)):
        length = Length.model_validate(item["placement"][axis])
        item["placement"][axis] = _px(length.in_px(tree["ppi"], tree["size_px"][1]) + by)
