"""Strokes of touch-up."""

from typing import Annotated, Any

from pydantic import Field

from kilncore.edits.operation import Path, operation
from kilncore.edits.tree import at
from kilncore.errors import KilnError
from kilncore.strokes import Stroke, added, inverted, taken_back

MOST = 200  # strokes of one edit
LISTS = {"landing": "touch", "params": "strokes"}  # where strokes are listed


def _listed(tree: Any, path: Path, assets: Any) -> tuple[dict, str]:
    """What holds the strokes at a path, and under which name."""
    name = LISTS.get(path[-1], "")
    holder = at(tree, path) if name and assets is not None else {}
    if name not in holder:
        raise KilnError("A stroke is laid on a landing or a step, and kept as a file.", str(path))
    return holder, name


@operation
def add_stroke(tree: Any, path: Path, stroke: dict, assets: Any):
    """One more stroke on the landing, or of the step, at that path; the assets keep its file."""
    holder, name = _listed(tree, path, assets)
    holder[name] = added(holder[name], Stroke.model_validate(stroke), assets)


@operation
def add_strokes(
    tree: Any, path: Path, strokes: Annotated[list[dict], Field(max_length=MOST)], assets: Any
):
    """Several at once."""
    holder, name = _listed(tree, path, assets)
    for stroke in strokes:
        holder[name] = added(holder[name], Stroke.model_validate(stroke), assets)


@operation
def take_back_stroke(tree: Any, path: Path, number: int, assets: Any):
    """One less: by its number from 0, or from -1 backwards."""
    holder, name = _listed(tree, path, assets)
    holder[name] = taken_back(holder[name], number, assets)


@operation
def invert_strokes(tree: Any, path: Path, assets: Any):
    """What is hidden is shown, and what is shown is hidden."""
    holder, name = _listed(tree, path, assets)
    holder[name] = inverted(holder[name], assets)
