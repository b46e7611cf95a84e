"""The operations that prepare a picture."""

import copy
from typing import Any

from kilncore.edits.operation import FIXED, OPERATIONS, UNFIT, Key, Path, Place, operation
from kilncore.edits.tree import at, by_id, moved
from kilncore.edits.values import same_place
from kilncore.errors import KilnError
from kilncore.model.base import new_id
from kilncore.prep.chain import TextureChain
from kilncore.prep.texture_ref import TextureRef
from kilncore.textures.prep import chain_of

ENDLESS = "endless"


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


@operation
def set_edges(tree: Any, path: Path, edges: Key, times: float = 3.0, piece: float = 0.0):
    """What lies beyond a texture: the texture again ('repeat'), its mirror image ('mirror'),
    nothing ('none'), or more of it that is seen nowhere else ('endless'): then it is laid in pieces
    before its chain parts it into two tones, where darks and lights still have tones between.
    """
    texture = at(tree, path)
    if "edges" not in texture:
        raise KilnError("This is no texture.", str(path))
    chain = [one for one in texture.get("chain", ()) if one["kind"] != ENDLESS]
    if edges == ENDLESS:
        made = TextureRef(hash=texture["hash"], chain=[*map(dict, chain)]).chain
        place = next((n for n, one in enumerate(made) if one.two_tone), len(chain))
        told = {"kind": ENDLESS, "id": new_id(), "times": times, "piece": piece}
        chain.insert(place, told)
    texture["chain"], texture["edges"] = chain, "repeat" if edges == ENDLESS else edges


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
