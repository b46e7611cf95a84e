"""What a prep page works on: a named prep on the shelf, or one use of a texture on a piece.

Both are a chain at a path, with a version and a way back.
"""

import json
from dataclasses import dataclass
from functools import cached_property

from django.http import Http404
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils.timezone import localtime

from kilncore import edits
from kilncore.document import Group, Mark
from kilncore.document import Piece as Document
from kilncore.edits.chains import changed
from kilncore.errors import KilnError
from kilncore.prep.texture_ref import TextureRef
from kilncore.textures.facts import PRINT_PPI
from kilnmark.bench.changes.snapshot import snapshot
from kilnmark.pieces.models import Piece
from kilnmark.pieces.names import name_of
from kilnmark.pieces.owned import check_owned
from kilnmark.pieces.textures import refs_in
from kilnmark.preps.models import Prep
from kilnmark.shelf.models import Texture

GONE = "This texture is no longer on the piece. Go back to it and choose a step."


@dataclass(frozen=True)
class OnShelf:
    """A named prep."""

    prep: Prep
    path: tuple[str, ...] = ("chain",)
    ppi: float = PRINT_PPI

    @property
    def base(self) -> str:
        return reverse("prep", args=[self.prep.id])

    @property
    def session_base(self) -> str:
        return self.base

    @property
    def texture(self) -> Texture:
        return self.prep.texture

    @property
    def version(self) -> int:
        return self.prep.version

    @property
    def title(self) -> str:
        return self.prep.name

    def ref(self, changes: list[dict] = ()) -> TextureRef:
        """The texture as it is prepared, with edits that are not stored yet."""
        chain = changed(self.prep.chain, list(changes))
        return TextureRef.model_validate(self.prep.ref).model_copy(update={"chain": chain})

    def snapshot(self) -> dict:
        """What the browser's session knows."""
        prep = self.prep
        return {
            "version": prep.version,
            "saved": localtime(prep.changed).strftime("%H:%M"),
            "title": prep.name,
            "undo": prep.past[-1][0] if prep.past else "",
            "redo": prep.future[-1][0] if prep.future else "",
            "document": {"chain": prep.stored, "stack": []},
        }


@dataclass(frozen=True)
class OnPiece:
    """A use. way : where the reference to the texture lies in the document."""

    piece: Piece
    way: tuple[str, ...]

    @property
    def path(self) -> tuple[str, ...]:
        return (*self.way, "chain")

    @property
    def base(self) -> str:
        return reverse("prep-use", args=[self.piece.id])

    @property
    def session_base(self) -> str:
        """Changes are the piece's own."""
        return reverse("bench", args=[self.piece.id])

    @property
    def query(self) -> str:
        return json.dumps(list(self.way))

    @property
    def ppi(self) -> float:
        return self.piece.ppi

    @property
    def version(self) -> int:
        return self.piece.version

    @cached_property
    def texture(self) -> Texture:
        return get_object_or_404(self.piece.owner.textures, hash=self.ref().hash)

    @property
    def part(self) -> str:
        """The id of the mark or group that it is on, 'ground' or 'piece'."""
        if self.way[0] != "stack":
            return "ground" if self.way[0] == "ground" else "piece"
        ids = {item.id for item in self.piece.document.items()}
        return [key for key in self.way if key in ids][-1]

    @property
    def item(self) -> Mark | Group | None:
        part = self.part
        return None if part in ("ground", "piece") else self.piece.document.item(part)

    @property
    def title(self) -> str:
        where = name_of(self.item) if self.item else {"ground": "the ground"}.get(self.part, "all")
        return f"on {where}, {self.piece.title}"

    def document(self, changes: list[dict] = ()) -> Document:
        """The piece with edits that are not stored yet: they name no file of anybody else's."""
        if not changes:
            return self.piece.document
        found = edits.apply(self.piece.document, list(changes))
        check_owned(self.piece.owner, found)
        return found

    def ref(self, changes: list[dict] = ()) -> TextureRef:
        """As it is prepared here."""
        found = dict(refs_in(self.document(changes))).get(self.way)
        if found is None:
            raise KilnError(GONE)
        return found

    def snapshot(self) -> dict:
        return snapshot(self.piece)


def on_shelf(user, prep_id, binned_too: bool = False) -> OnShelf:
    """Of an own prep, or 404."""
    rows = Prep.objects.select_related("texture", "owner")
    rows = rows if binned_too else rows.here()
    return OnShelf(get_object_or_404(rows, pk=prep_id, owner=user))


def on_piece(user, piece_id, path: str) -> OnPiece:
    """Of an own piece, or 404; KilnError if no texture lies at that path."""
    rows = Piece.objects.select_related("head", "head__onward", "owner")
    piece = get_object_or_404(rows, pk=piece_id, owner=user, binned=None)
    try:
        way = tuple(json.loads(path))
        hash(way)
    except (ValueError, TypeError, RecursionError):
        raise Http404 from None
    target = OnPiece(piece, way)
    target.ref()
    return target
