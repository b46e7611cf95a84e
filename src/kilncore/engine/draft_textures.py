"""Drafts of pieces whose textures are not ready: while an operation is being set, its texture is
drawn from a smaller copy; the exact picture makes it ready.
"""

import threading
from typing import Any

from cachetools import LRUCache, cached
from pydantic import BaseModel

from kilncore.document import Piece, Step
from kilncore.engine import pool
from kilncore.graph.protocols import Assets
from kilncore.model.files import values_in
from kilncore.prep.chain import draft_level
from kilncore.prep.texture_ref import DraftRef, TextureRef

PARTS = 2000  # of pieces, whose textures are remembered


def with_draft_textures(piece: Piece, assets: Assets) -> Piece:
    """The piece, with its textures that are not ready as drafts; itself if all are."""
    parts = piece.ground, *piece.stack, *piece.treatment
    drafts = {}

    def look(read: tuple[TextureRef, TextureRef]) -> None:
        if not assets.is_ready(read[1]):
            drafts[read[0]] = _draft(*read, assets)

    # of a texture that was never looked at, telling takes as long as decoding it
    pool.side_by_side(look, list(dict.fromkeys(one for part in parts for one in _prepared(part))))
    return _replaced(piece, drafts) if drafts else piece


@cached(LRUCache(PARTS), key=id, condition=threading.Condition(), info=False)
def _prepared_in(part: BaseModel) -> tuple[BaseModel, tuple]:
    """(the part, so that its id stays its own; what `_prepared` tells of it)."""
    read = {ref: ref for ref in values_in(part, TextureRef)} | dict(_masks(part))
    return part, tuple((ref, one) for ref, one in read.items() if one.chain)


def _prepared(part: BaseModel) -> tuple:
    """(texture, as it is read) of all prepared textures of a part."""
    return _prepared_in(part)[1]


def _masks(part: BaseModel):
    """(texture, as it is read) of what cuts it otherwise than it is prepared."""
    for one in values_in(part, Step):
        mask = getattr(one.params, "mask_texture", None)
        if mask is not None and one.on:
            yield getattr(one.params, "texture", None), mask


def _draft(ref: TextureRef, read: TextureRef, assets: Assets) -> TextureRef:
    width, height = assets.source(ref.hash).size
    level = draft_level(read.chain, width, height, 0.5, 1.0)
    fields = {name: getattr(ref, name) for name in type(ref).model_fields}
    return DraftRef.model_construct(**fields, level=level) if level else ref


def _replaced(value: Any, drafts: dict) -> Any:
    """A copy with the references replaced; whatever holds none of them stays the same object."""
    if isinstance(value, TextureRef):
        return drafts.get(value, value)
    if isinstance(value, tuple):
        made = tuple(_replaced(one, drafts) for one in value)
        return value if all(a is b for a, b in zip(made, value, strict=True)) else made
    if not isinstance(value, BaseModel):
        return value
    changed = {
        name: made
        for name, inner in value.__dict__.items()
        if (made := _replaced(inner, drafts)) is not inner
    }
    return value.model_copy(update=changed) if changed else value
