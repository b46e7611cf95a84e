"""The operations that prepare a picture."""

from typing import Any

from kilncore.edits.operation import FIXED, Key, Path, Place, operation
from kilncore.edits.tree import at, by_id, moved
from kilncore.edits.values import same_place
from kilncore.errors import KilnError
from kilncore.model.base import new_id


@operation
def add_operation(tree: Any, path: Path, kind: Key, settings: dict | None = None):
    """One more operation at the end of the chain at that path."""
    with same_place(tree, path):
        _chain(tree, path).append({**(settings or {}), "kind": kind, "id": new_id()})


@operation
def set_operation(tree: Any, path: Path, operation: Key, settings: dict):
    """Several settings of an operation at once."""
    found = by_id(_chain(tree, path), operation)
    if set(settings) & FIXED or not set(settings) <= set(found):
        raise KilnError("This cannot be set.", str(sorted(settings))[:200])
    with same_place(tree, path):
        found.update(settings)


@operation
def remove_operation(tree: Any, path: Path, operation: Key):
    """Gone."""
    with same_place(tree, path):
        chain = _chain(tree, path)
        chain.remove(by_id(chain, operation))


@operation
def move_operation(tree: Any, path: Path, operation: Key, to: Place):
    """To another place in its chain."""
    with same_place(tree, path):
        moved(_chain(tree, path), operation, to)


def _chain(tree: dict, path: list[str]) -> list:
    if path[-1] != "chain":
        raise KilnError("An operation stands in a chain.", str(path))
    return at(tree, path)
