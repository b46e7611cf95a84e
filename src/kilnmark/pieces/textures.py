"""Where pieces name textures."""

from dataclasses import dataclass

from kilncore import edits
from kilncore.document import Piece as Document
from kilncore.errors import KilnError
from kilncore.model.base import Model
from kilncore.model.files import TextureHash
from kilncore.prep.texture_ref import TextureRef
from kilnmark.pieces import actions
from kilnmark.pieces.models import Piece


@dataclass(frozen=True)
class Use:
    """A piece that uses a prepared texture. ways : where its references lie in the document."""

    piece: Piece
    ways: tuple[tuple[str, ...], ...]


def uses_of(owner, texture_hash: str, prep: str | None = None) -> list[Use]:
    """The pieces whose newest state names a texture; of a prep, only where it came from that."""
    found = []
    for piece in owner.pieces.here().select_related("head"):
        try:
            document = piece.document
        except KilnError:
            continue
        ways = tuple(
            way
            for way, ref in refs_in(document)
            if ref.hash == texture_hash and (prep is None or ref.prep == prep)
        )
        if ways:
            found.append(Use(piece, ways))
    return found


def everywhere(uses: list[Use], values: dict[str, object], label: str) -> int:
    """These values of every reference, as one state that can be undone in each piece; in how many.
    values : by field of the reference.
    """
    count = 0
    for use in uses:
        piece = Piece.objects.select_related("head", "owner").get(pk=use.piece.pk)
        known = {way for way, _ in refs_in(piece.document)}
        changes = [
            {"op": "set", "path": [*way, field], "value": value}
            for way in use.ways
            if way in known
            for field, value in values.items()
        ]
        for first in range(0, len(changes), edits.MAX_EDITS):
            part = changes[first : first + edits.MAX_EDITS]
            piece = actions.change(piece, piece.version, part, label)
        count += bool(changes)
    return count


def texture_counts(owner) -> dict[str, int]:
    """On how many pieces each texture is used, by its hash."""
    found: dict[str, int] = {}
    for piece in owner.pieces.here().select_related("head"):
        try:
            names = piece.document.files(TextureHash)
        except KilnError:
            continue
        for name in names:
            found[str(name)] = found.get(str(name), 0) + 1
    return found


def refs_in(document: Document) -> list[tuple[tuple[str, ...], TextureRef]]:
    """(path, reference) of all textures that a document names."""
    return list(_refs(document, ()))


def _refs(value, way: tuple[str, ...]):
    if isinstance(value, TextureRef):
        yield way, value
    elif isinstance(value, tuple):
        for inner in value:
            if isinstance(inner, Model) and hasattr(inner, "id"):
                yield from _refs(inner, (*way, inner.id))
    elif isinstance(value, Model):
        for name in type(value).model_fields:
            yield from _refs(getattr(value, name), (*way, name))
