"""The operations that prepare a picture."""

import copy
from typing import Any

from kilncore.edits.operation import FIXED, OPERATIONS, UNFIT, Key, Path, Place, operation
from kilncore.edits.tree import at, by_id, moved
from kilncore.edits.values import same_place
from kilncore.errors import KilnError
from kilncore.model.base import new_id
from kilncore.prep.chain import TextureChain
from kilncore.textures.prep import chain_of


@operation
def add_operation(
    tree: Any, path: Path, kind: Key, settings: dict | None = None, at: Place | None = None
):
    """One more operation in the chain at that path: at a place, or at its end."""
    with same_place(tree, path):
        chain = _chain(tree, path)
        place = len(chain) if at is None else max(0, min(at, len(chain)))
        chain.insert(place, {**(settings or {}), "kind": kind, "id": new_id()})


@operation
def set_operation(tree: Any, path: Path, operation: Key, settings: dict):
    """Several settings of an operation at once."""
    operation_told = by_id(_chain(tree, path), operation)
    if set(settings) & FIXED or not set(settings) <= set(operation_told):
        raise KilnError("This cannot be set.", str(sorted(settings))[:200])
    with same_place(tree, path):
        operation_told.update(settings)


@operation
def copy_operation(tree: Any, path: Path, operation: Key):
    """Once more, after itself."""
    with same_place(tree, path):
        chain = _chain(tree, path)
        original = by_id(chain, operation)
        chain.insert(chain.index(original) + 1, {**copy.deepcopy(original), "id": new_id()})


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


OF_CHAINS = ("set", *(f"{act}_operation" for act in ("add", "set", "copy", "remove", "move")))


def changed(chain: TextureChain, edits: list[dict]) -> TextureChain:
    """A texture's chain after edits whose paths begin with 'chain': one that stands by itself, as
    on the shelf. All of them or, KilnError, none.
    """
    tree = {"chain": [one.model_dump(mode="json") for one in chain]}
    for edit in edits:
        op, path = edit.get("op"), edit.get("path")
        if op not in OF_CHAINS or not isinstance(path, list) or path[:1] != ["chain"]:
            raise KilnError("An edit does not fit this prep.", repr(edit)[:200])
        try:
            OPERATIONS[op](tree, **{key: value for key, value in edit.items() if key != "op"})
        except UNFIT as error:
            raise KilnError("An edit does not fit this prep.", f"{edit!r:.200}: {error}") from error
    return chain_of(tree["chain"])


def _chain(tree: dict, path: list[str]) -> list:
    if path[-1] != "chain":
        raise KilnError("An operation stands in a chain.", str(path))
    return at(tree, path)
