"""Edits: how a document changes. Each is a small, named operation on the JSON tree; what it changes
is read anew, and the result is checked whole when it is stored.

    {"op": "set", "path": ["stack", MARK, "treatment", STEP, "params", "black"], "value": 0.2}
    {"op": "add_step", "part": PART, "kind": "wear", "params": {...}, "at": 0}
    {"op": "add_steps", "part": PART, "steps": [{"kind": "wear", "params": {...}}], "instead": true}
    {"op": "remove_step" | "copy_step", "step": STEP}
    {"op": "seed_step", "step": STEP, "seed": 7}
    {"op": "move_step", "step": STEP, "to": 2}
    {"op": "copy_steps", "part": PART, "to": PART, "steps": [STEP, ...]}
    {"op": "share_step", "step": STEP, "parts": [PART, ...]}
    {"op": "unshare_step", "step": STEP}
    {"op": "add_mark", "mark": {...}}
    {"op": "move_mark", "mark": MARK, "to": 0}
    {"op": "place_mark", "mark": MARK, "into": GROUP or null, "to": 0}
    {"op": "remove_mark" | "copy_mark", "mark": MARK}
    {"op": "remove_marks" | "copy_marks", "marks": [MARK, ...]}
    {"op": "flag_marks", "marks": [MARK, ...], "flag": "locked" | "left_out", "on": true}
    {"op": "replace_mark", "mark": MARK, "marks": [{"name": ..., "art": {...}}, ...]}
    {"op": "replace_art", "mark": MARK, "art": {...}, "fit": "box"}
    {"op": "add_operation", "path": [..., "chain"], "kind": "knock-out", "settings": {...},
     "at": 0}
    {"op": "set_operation", "path": [..., "chain"], "operation": ID, "settings": {...}}
    {"op": "set_edges", "path": [..., "texture"], "edges": "repeat" | "mirror" | "none" | "endless",
     "times": 3, "piece": 120}
    {"op": "copy_operation", "path": [..., "chain"], "operation": ID}
    {"op": "remove_operation", "path": [..., "chain"], "operation": ID}
    {"op": "move_operation", "path": [..., "chain"], "operation": ID, "to": 0}
    {"op": "add_stroke", "path": ["stack", MARK, "treatment", STEP, "landing"],
     "stroke": {"points": [[0, 0.1], ...], "radius": 0.05}}
    {"op": "hold_by_region", "mark": MARK, "region": {"shape": "outline", ...}}
    {"op": "group", "marks": [MARK, ...]}
    {"op": "ungroup", "group": GROUP}
    {"op": "transform_marks", "marks": [MARK, ...], "about": [x, y], "by": [dx, dy],
     "scale": 1, "turn": 0}
    {"op": "align", "marks": [MARK, ...], "to": "left"}
    {"op": "spread", "marks": [MARK, ...], "along": "across"}
    {"op": "trim_piece", "left": 100, "top": 0, "right": -50, "bottom": 0}
    {"op": "scale_piece", "width": 3000}
    {"op": "set_ppi", "ppi": 600, "resample": false}
    {"op": "turn_piece", "quarters": 1}

PART is 'ground', 'piece' or the id of a mark or group; a group is moved, removed and copied as a
mark is, and stands for MARK wherever one is named. Lists are addressed by the ids of what they
hold. A kind of edit more is a function in one of the modules named below.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from kilncore.document import MAX_ITEMS, MAX_STEPS, Piece, load
from kilncore.edits import (
    arranging,
    chains,
    groups,
    holding,
    marks,
    page,
    perspective,
    replacing,
    sharing,
    steps,
    strokes,
    values,
)
from kilncore.edits.operation import OPERATIONS, UNFIT, WITH_ASSETS
from kilncore.edits.tree import items_of
from kilncore.edits.working_copy import SIMPLE, WorkingCopy
from kilncore.errors import KilnError
from kilncore.graph.protocols import Assets

__all__ = ["MAX_EDITS", "MODULES", "OPERATIONS", "apply"]

MODULES = (
    *(
        values,
        chains,
        strokes,
        steps,
        sharing,
        marks,
        replacing,
        groups,
        holding,
        arranging,
        perspective,
    ),
    page,
)
MAX_EDITS = 50


def apply(
    piece: Piece, edits: list[dict], assets: Assets | None = None, *, whole: bool = True
) -> Piece:
    """The piece after edits, all of them or none. Only what an edit changes is read anew.

    Parameters
    ----------
    piece : Piece
        It stays as it is.
    edits : list of dict
        Each with its `op` and the arguments of that sort of edit.
    assets : Assets, optional
        What keeps the files that edits bring.
    whole : bool
        The document is checked as a whole then, as one that is stored must be; otherwise not after
        edits that set single values or places, as a hand that drags does.

    Returns
    -------
    Piece
        What edits leave alone is the same model.

    Raises
    ------
    KilnError
        For an edit that does not fit; no edit is made then.
    """
    if not isinstance(edits, list) or len(edits) > MAX_EDITS:
        raise KilnError(f"A change must be a list of {MAX_EDITS} edits at most.")
    tree = WorkingCopy(piece)
    for edit in edits:
        _apply_one(tree, edit, assets, piece)
    with _fitting(edits):
        if any(step.get("shared") for part in _touched(tree) for step in part["treatment"]):
            sharing.shared_alike(tree, WorkingCopy(piece))
        ends = tree.closed()
    if ends is piece:
        return piece
    changed = load(ends, same_parts=not whole and all(map(_sets_values, edits)))
    _check_art(changed, piece)
    return changed


def _check_art(piece: Piece, before: Piece) -> None:
    """Art that was not there before is set within bounds, or refused."""
    known = {mark.id: mark.art for mark in before.marks()}
    for mark in piece.marks():
        if known.get(mark.id) is not mark.art and known.get(mark.id) != mark.art:
            mark.art.check()


def _sets_values(edit: dict) -> bool:
    """Whether an edit leaves all parts of the document there as they are, and adds none."""
    if edit["op"] == "set":
        return isinstance(edit.get("value"), SIMPLE)
    return edit["op"] == "transform_marks"


def _touched(tree: WorkingCopy) -> list:
    """The parts whose treatments edits have looked into, or made."""
    parts = [tree, tree["ground"], *items_of(tree)]
    return [one for one in parts if not isinstance(one, WorkingCopy) or one.is_open("treatment")]


def _apply_one(tree: WorkingCopy, edit: Any, assets: Assets | None, piece: Piece) -> None:
    op = edit.get("op") if isinstance(edit, dict) else None
    operation = OPERATIONS.get(op) if isinstance(op, str) else None
    if operation is None:
        raise KilnError(f"An edit must be one of: {', '.join(OPERATIONS)}.", repr(edit)[:200])
    given = {key: value for key, value in edit.items() if key != "op"}
    if op in WITH_ASSETS:
        given["assets"] = assets
    with _fitting(edit):
        operation(tree, **given)
        if not _sets_values(edit):
            _check_size(tree, piece)


@contextmanager
def _fitting(edit: dict | list) -> Iterator[None]:
    """Whatever an edit breaks in the tree is said as what it is."""
    try:
        yield
    except UNFIT as error:
        raise KilnError(
            "An edit does not fit this piece.", f"{edit!r:.300}: {error}"[:400]
        ) from error


def _size(piece: Piece) -> tuple[int, int]:
    """(marks and groups, steps)."""
    treatments = piece.treatments()
    return len(treatments) - 2, sum(map(len, treatments.values()))


def _check_size(tree: WorkingCopy, piece: Piece) -> None:
    """No more than a piece may have, or than it had before."""
    most = [max(*pair) for pair in zip((MAX_ITEMS, MAX_STEPS), _size(piece), strict=True)]
    parts = items_of(tree)
    if len(parts) > most[0]:
        raise KilnError(f"A piece may have {most[0]} marks and groups at most.")
    if sum(len(part["treatment"]) for part in (tree["ground"], tree, *parts)) > most[1]:
        raise KilnError(f"A piece may have {most[1]} steps at most, all its treatments together.")
