"""Edits: how a document changes. Each is a small, named operation on the JSON tree; the result is
validated whole.

    {"op": "set", "path": ["stack", MARK, "treatment", STEP, "params", "black"], "value": 0.2}
    {"op": "add_step", "part": PART, "kind": "wear", "params": {...}, "at": 0}
    {"op": "remove_step" | "copy_step", "step": STEP}
    {"op": "move_step", "step": STEP, "to": 2}
    {"op": "add_mark", "mark": {...}}
    {"op": "move_mark", "mark": MARK, "to": 0}
    {"op": "remove_mark" | "copy_mark", "mark": MARK}
    {"op": "replace_mark", "mark": MARK, "marks": [{"name": ..., "art": {...}}, ...]}
    {"op": "add_operation", "path": [..., "chain"], "kind": "knock-out", "settings": {...}}
    {"op": "set_operation", "path": [..., "chain"], "operation": ID, "settings": {...}}
    {"op": "remove_operation", "path": [..., "chain"], "operation": ID}
    {"op": "move_operation", "path": [..., "chain"], "operation": ID, "to": 0}
    {"op": "add_stroke", "path": ["stack", MARK, "treatment", STEP, "landing"],
     "stroke": {"points": [[0, 0.1], ...], "radius": 0.05}}
    {"op": "group", "marks": [MARK, ...]}
    {"op": "ungroup", "group": GROUP}

PART is 'ground', 'piece' or the id of a mark or group; a group is moved, removed and copied as a
mark is. Lists are addressed by the ids of what they hold.
"""

import copy
import math
from collections.abc import Callable
from contextlib import contextmanager
from typing import Annotated, Any

from pydantic import Field, StringConstraints, validate_call

from kilncore.artwork import ARTS
from kilncore.document import MAX_ITEMS, MAX_STEPS, Piece, load, new_seed
from kilncore.errors import KilnError
from kilncore.geometry.affine import Affine
from kilncore.graph.protocols import Assets
from kilncore.landing import Landing
from kilncore.layout.layout import Layout
from kilncore.model.base import new_id
from kilncore.model.units import Length
from kilncore.steps import STEPS
from kilncore.strokes import Stroke, added

MAX_EDITS = 50
COPY_OFFSET_PX = 40
FIXED = {"format", "id", "kind", "seed", "rev"}
OPERATIONS: dict[str, Callable] = {}


def apply(piece: Piece, edits: list[dict], assets: Assets | None = None) -> Piece:
    """The piece after the edits, all of them or (KilnError) none. assets : what keeps the files
    that edits bring.
    """
    if not isinstance(edits, list) or len(edits) > MAX_EDITS:
        raise KilnError(f"A change must be a list of {MAX_EDITS} edits at most.")
    tree = piece.model_dump(mode="json")
    allowed = [
        max(most, size) for most, size in zip((MAX_ITEMS, MAX_STEPS), _size(tree), strict=True)
    ]
    for edit in edits:
        operation = (
            OPERATIONS.get(edit["op"])
            if isinstance(edit, dict) and isinstance(edit.get("op"), str)
            else None
        )
        if operation is None:
            raise KilnError(f"An edit must be one of: {', '.join(OPERATIONS)}.", repr(edit)[:200])
        given = {key: value for key, value in edit.items() if key != "op"}
        try:
            operation(
                tree,
                **given,
                **({"assets": assets} if operation is OPERATIONS["add_stroke"] else {}),
            )
            _check_size(tree, allowed)
        except (
            TypeError,
            KeyError,
            ValueError,
            IndexError,
            AttributeError,
            OverflowError,
            RecursionError,
        ) as error:
            raise KilnError(
                "An edit does not fit this piece.", f"{edit!r:.300}: {error}"[:400]
            ) from error
    return load(tree)


def _size(tree: dict) -> tuple[int, int]:
    """(marks and groups, steps)."""
    items = _items(tree)
    return len(items), sum(len(part["treatment"]) for part in (tree["ground"], tree, *items))


def _check_size(tree: dict, allowed) -> None:
    items, steps = _size(tree)
    if items > allowed[0]:
        raise KilnError(f"A piece may have {allowed[0]} marks and groups at most.")
    if steps > allowed[1]:
        raise KilnError(
            f"A piece may have {allowed[1]} steps at most, all its treatments together."
        )


def _operation(function: Callable | str) -> Callable:
    """Register a kind of edit, under its name or another. What it is given is checked against its
    signature: no other types get in."""
    if isinstance(function, str):
        return lambda named: _register(function, named)
    return _register(function.__name__, function)


def _register(name: str, function: Callable) -> Callable:
    OPERATIONS[name] = validate_call(config={"strict": True})(function)
    return function


Key = Annotated[str, StringConstraints(max_length=60)]
Path = Annotated[list[Key], Field(min_length=1, max_length=12)]
Place = Annotated[int, Field(ge=-1000, le=1000)]


def _child(node, key):
    if isinstance(node, list):
        return _by_id(node, key)
    return node[key]


def _by_id(items: list, item_id: str):
    for item in items:
        if item["id"] == item_id:
            return item
    raise KilnError("What you changed is no longer on this piece.", str(item_id))


def _items(tree: dict) -> list:
    return [item for top in tree["stack"] for item in (top, *top.get("members", ()))]


def _holder(tree: dict, item_id: str) -> list:
    """The list that a mark or group is in: the stack, or a group's members."""
    for items in (
        tree["stack"],
        *(group["members"] for group in tree["stack"] if "members" in group),
    ):
        if any(item["id"] == item_id for item in items):
            return items
    raise KilnError("What you changed is no longer on this piece.", str(item_id))


def _treatment(tree: dict, part: str) -> list:
    if part == "piece":
        return tree["treatment"]
    return (tree["ground"] if part == "ground" else _by_id(_items(tree), part))["treatment"]


def _holding(tree: dict, step: str) -> list:
    for treatment in (
        tree["ground"]["treatment"],
        tree["treatment"],
        *(item["treatment"] for item in _items(tree)),
    ):
        if any(item["id"] == step for item in treatment):
            return treatment
    raise KilnError("This step is no longer on the piece.", str(step))


def _moved(items: list, item_id: str, to: int) -> None:
    item = _by_id(items, item_id)
    items.remove(item)
    items.insert(max(0, min(int(to), len(items))), item)


@_operation("set")
def set_value(tree: Any, path: Path, value: Any):
    """A value at a path. When words change, the mark's frame moves with the longest run of letters
    that stays.
    """
    *way, last = path
    if last in FIXED and way[-1:] not in (["art"], ["fill"]) or last not in _parent(tree, way):
        raise KilnError("This cannot be set.", str(path))
    holder = _parent(tree, way)
    with _same_place(tree, way):
        holder[last] = value


@contextmanager
def _same_place(tree: dict, way: list[str]):
    """What an edit within a mark's art leaves of it stays where it lies, and keeps its wear."""
    if "art" not in way:
        yield
        return
    mark = _parent(tree, way[: way.index("art")])
    before = copy.deepcopy(mark["art"])
    yield
    before, after = (ARTS.settings(one.get("kind"), one) for one in (before, mark["art"]))
    across, down = after.frame_shift(before)
    frame = mark.setdefault("frame", {"x": 0.0, "y": 0.0, "unit": 1.0})
    frame["x"], frame["y"] = frame["x"] + across, frame["y"] + down
    _shift_middle(tree, mark, *after.middle_shift(before))


def _shift_middle(tree: dict, mark: dict, across: float, down: float) -> None:
    place = mark["placement"]
    if across or down:
        turn = math.radians(place.get("rotation_deg", 0))
        placed = Affine.similarity(0, 0, place.get("scale", 1), turn)
        _shift(tree, mark, *placed.point(across, down))


def _parent(tree, way):
    node = tree
    for key in way:
        node = _child(node, key)
    return node


@_operation
def add_operation(tree: Any, path: Path, kind: Key, settings: dict | None = None):
    """One more operation at the end of the chain at that path."""
    with _same_place(tree, path):
        _chain(tree, path).append({**(settings or {}), "kind": kind, "id": new_id()})


@_operation
def set_operation(tree: Any, path: Path, operation: Key, settings: dict):
    """Several settings of an operation at once."""
    found = _by_id(_chain(tree, path), operation)
    if set(settings) & FIXED or not set(settings) <= set(found):
        raise KilnError("This cannot be set.", str(sorted(settings))[:200])
    with _same_place(tree, path):
        found.update(settings)


@_operation
def remove_operation(tree: Any, path: Path, operation: Key):
    """Gone."""
    with _same_place(tree, path):
        chain = _chain(tree, path)
        chain.remove(_by_id(chain, operation))


@_operation
def move_operation(tree: Any, path: Path, operation: Key, to: Place):
    """To another place in its chain."""
    with _same_place(tree, path):
        _moved(_chain(tree, path), operation, to)


def _chain(tree: dict, path: list[str]) -> list:
    if path[-1] != "chain":
        raise KilnError("An operation stands in a chain.", str(path))
    return _parent(tree, path)


@_operation
def add_stroke(tree: Any, path: Path, stroke: dict, assets: Any):
    """One more stroke of touch-up on the landing at that path; its file is kept by the assets."""
    landing = _parent(tree, path)
    if assets is None or path[-1] != "landing":
        raise KilnError("A stroke is laid on a landing, and kept as a file.", str(path))
    landing["touch"] = added(landing["touch"], Stroke.model_validate(stroke), assets)


@_operation
def add_step(tree: Any, part: Key, kind: Key, params: dict | None = None, at: Place | None = None):
    """A new step, with the landing that its kind begins with. at : its place; the last, if None."""
    treatment = _treatment(tree, part)
    landing = STEPS.named(kind).landing.model_dump(mode="json")
    step = {"id": new_id(), "kind": kind, "params": params or {}, "landing": landing}
    treatment.insert(len(treatment) if at is None else int(at), step)


@_operation
def remove_step(tree: Any, step: Key):
    """Gone."""
    treatment = _holding(tree, step)
    treatment.remove(_by_id(treatment, step))


@_operation
def copy_step(tree: Any, step: Key):
    """A twin behind the step, with a seed of its own."""
    treatment = _holding(tree, step)
    twin = {**copy.deepcopy(_by_id(treatment, step)), "id": new_id(), "seed": new_seed()}
    treatment.insert(treatment.index(_by_id(treatment, step)) + 1, twin)


@_operation
def move_step(tree: Any, step: Key, to: Place):
    """To another place in its treatment."""
    _moved(_holding(tree, step), step, to)


@_operation
def add_mark(tree: Any, mark: dict):
    """A mark on top of the stack."""
    tree["stack"].append(
        {
            "kind": "mark",
            "treatment": [],
            "landing": Landing().model_dump(mode="json"),
            "seed": new_seed(),
            **mark,
            "id": mark.get("id") or new_id(),
        }
    )


@_operation
def remove_mark(tree: Any, mark: Key):
    """Gone, and with it what it held in or out; a group that it leaves empty goes too."""
    holder = _holder(tree, mark)
    gone = _by_id(holder, mark)
    holder.remove(gone)
    tree["stack"][:] = [item for item in tree["stack"] if item.get("members") != []]
    ids = {gone["id"], *(member["id"] for member in gone.get("members", ()))}
    for landing in _landings(tree):
        landing["limits"] = [limit for limit in landing["limits"] if limit.get("mark") not in ids]


def _landings(tree: dict) -> list:
    treatments = (
        tree["ground"]["treatment"],
        tree["treatment"],
        *(item["treatment"] for item in _items(tree)),
    )
    return [item["landing"] for item in _items(tree)] + [
        step["landing"] for steps in treatments for step in steps
    ]


@_operation
def replace_mark(tree: Any, mark: Key, marks: Annotated[list[dict], Field(min_length=1)]):
    """Others in a mark's place, from the bottom up, each with a treatment like its own. What was
    held in or out by it is so by the lowest of them.
    """
    holder = _holder(tree, mark)
    gone = _by_id(holder, mark)
    fresh = [{**_renewed(gone), **one} for one in marks]
    fresh[0] |= {"id": gone["id"], "seed": gone["seed"]}
    at = holder.index(gone)
    holder[at : at + 1] = fresh


@_operation
def copy_mark(tree: Any, mark: Key):
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
    twin |= {
        "id": new_id(),
        "seed": new_seed(),
        "treatment": [{**s, "id": new_id()} for s in twin["treatment"]],
    }
    return twin | (
        {"members": [_renewed(member) for member in twin["members"]]} if "members" in twin else {}
    )


@_operation
def move_mark(tree: Any, mark: Key, to: Place):
    """To another place in the stack, or in its group."""
    _moved(_holder(tree, mark), mark, to)


@_operation
def group(tree: Any, marks: Annotated[list[Key], Field(max_length=MAX_ITEMS)]):
    """Marks treated as one from now on, where the topmost of them was; they stay where they lie."""
    chosen = [item for item in tree["stack"] if item["id"] in marks]
    if len(chosen) != len(marks) or not chosen or any("members" in item for item in chosen):
        raise KilnError(
            "A group is made of marks on this piece that are in no group yet.", str(marks)
        )
    x, y = _middle_of(tree, {item["id"] for item in chosen})
    top = tree["stack"].index(chosen[-1])
    for item in chosen:
        _shift(tree, item, -x, -y)
    made = {
        "kind": "group",
        "id": new_id(),
        "seed": new_seed(),
        "members": chosen,
        "treatment": [],
        "placement": {"x": _px(x), "y": _px(y)},
        "landing": Landing().model_dump(mode="json"),
    }
    tree["stack"].insert(top + 1, made)
    tree["stack"][:] = [item for item in tree["stack"] if item not in chosen]


@_operation
def ungroup(tree: Any, group: Key):
    """The members alone again, where they lay. The group's own treatment goes with it."""
    gone = _by_id(tree["stack"], group)
    boxes = Layout(load(copy.deepcopy(tree))).boxes()
    for member in gone["members"]:
        box = boxes[member["id"]]
        scale = member["placement"]["scale"] * gone["placement"]["scale"]
        member["placement"] = {
            "x": _px(box.x),
            "y": _px(box.y),
            "scale": scale,
            "rotation_deg": _turn(box.rotation_deg),
        }
    at = tree["stack"].index(gone)
    tree["stack"][at : at + 1] = gone["members"]


def _px(value: float) -> dict:
    return {"value": value, "unit": "px"}


def _turn(degrees: float) -> float:
    return (degrees + 180) % 360 - 180


def _middle_of(tree: dict, ids) -> tuple[float, float]:
    boxes = [
        box for item_id, box in Layout(load(copy.deepcopy(tree))).boxes().items() if item_id in ids
    ]
    corners = [corner for box in boxes for corner in box.corners()]
    xs, ys = zip(*corners, strict=True)
    return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2


def _shift(tree: dict, item: dict, dx: float, dy: float) -> None:
    """Move an item, whatever the unit of its place."""
    for axis, by in (("x", dx), ("y", dy)):
        length = Length.model_validate(item["placement"][axis])
        item["placement"][axis] = _px(length.in_px(tree["ppi"], tree["size_px"][1]) + by)
