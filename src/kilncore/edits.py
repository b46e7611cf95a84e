"""Edits: how a document changes. Each is a small, named operation on the JSON tree; the result is validated whole.

    {"op": "set", "path": ["stack", MARK, "treatment", STEP, "params", "black"], "value": 0.2}
    {"op": "add_step", "part": PART, "kind": "wear", "params": {...}, "at": 0}
    {"op": "remove_step" | "copy_step", "step": STEP}      {"op": "move_step", "step": STEP, "to": 2}
    {"op": "add_mark", "mark": {...}}                      {"op": "move_mark", "mark": MARK, "to": 0}
    {"op": "remove_mark" | "copy_mark", "mark": MARK}

PART is 'ground', 'piece' or a mark's id. Lists are addressed by the ids of what they hold.
"""

import copy
from collections.abc import Callable

from kilncore.document import Piece, load, new_id, new_seed
from kilncore.errors import KilnError
from kilncore.steps import kind_named

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


def _treatment(tree: dict, part: str) -> list:
    if part == "piece":
        return tree["treatment"]
    return (tree["ground"] if part == "ground" else _by_id(tree["stack"], part))["treatment"]


def _holding(tree: dict, step: str) -> list:
    for treatment in (tree["ground"]["treatment"], tree["treatment"], *(mark["treatment"] for mark in tree["stack"])):
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
    tree["stack"].append({**mark, "id": mark.get("id") or new_id()})


@_operation
def remove_mark(tree, mark):
    tree["stack"].remove(_by_id(tree["stack"], mark))


@_operation
def copy_mark(tree, mark):
    """A twin beside the mark, with a seed of its own: no two marks are worn alike."""
    twin = copy.deepcopy(_by_id(tree["stack"], mark))
    twin |= {"id": new_id(), "seed": new_seed(), "treatment": [{**s, "id": new_id()} for s in twin["treatment"]]}
    for axis in ("x", "y"):
        if twin["placement"][axis]["unit"] == "px":
            twin["placement"][axis]["value"] += COPY_OFFSET_PX
    tree["stack"].append(twin)


@_operation
def move_mark(tree, mark, to):
    _moved(tree["stack"], mark, to)
