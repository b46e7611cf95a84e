"""Marks and groups: added, removed, copied, moved in the stack."""

from typing import Any, Literal

from kilncore.document import new_seed
from kilncore.edits.operation import Key, Keys, Place, operation
from kilncore.edits.tree import (
    by_id,
    holder_of,
    items_of,
    let_go,
    moved,
    outermost,
    renewed,
    tidied,
)
from kilncore.landing import Landing
from kilncore.model.base import new_id
from kilncore.model.units import MM_PER_INCH

COPY_OFFSET_PX = 40


@operation
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


@operation
def remove_marks(tree: Any, marks: Keys):
    """All of them gone."""
    for mark in outermost(tree, marks):
        remove_mark(tree, mark)


@operation
def copy_marks(tree: Any, marks: Keys):
    """A twin of each."""
    for mark in outermost(tree, marks):
        copy_mark(tree, mark)


@operation
def flag_marks(tree: Any, marks: Keys, flag: Literal["locked", "left_out"], on: bool):
    """All of them locked or left out, or not."""
    for mark in marks:
        by_id(items_of(tree), mark)[flag] = on


@operation
def remove_mark(tree: Any, mark: Key):
    """Gone, and with it what it held in or out; a group that it leaves empty goes too."""
    holder = holder_of(tree, mark)
    gone = by_id(holder, mark)
    holder.remove(gone)
    tidied(tree)
    let_go(tree, {gone["id"], *(one["id"] for one in items_of({"stack": gone.get("members", [])}))})


@operation
def copy_mark(tree: Any, mark: Key):
    """A twin beside the mark, with a seed of its own: no two marks are worn alike."""
    holder = holder_of(tree, mark)
    twin = renewed(by_id(holder, mark))
    ppi, tall = tree["ppi"], tree["size_px"][1]
    per_px = {"px": 1.0, "mm": MM_PER_INCH / ppi, "%": 100 / tall}
    for axis in ("x", "y"):
        length = twin["placement"][axis]
        length["value"] = round(length["value"] + COPY_OFFSET_PX * per_px[length["unit"]], 4)
    holder.append(twin)


@operation
def move_mark(tree: Any, mark: Key, to: Place):
    """To another place in the stack, or in its group."""
    moved(holder_of(tree, mark), mark, to)
