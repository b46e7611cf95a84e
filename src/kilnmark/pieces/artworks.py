"""The artworks of an owner: their pictures, where they are used, and replacing one everywhere."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from django.db import transaction

from kilncore.document import Mark
from kilncore.errors import KilnError
from kilncore.model.files import ArtHash
from kilncore.pixels.vips import as_image
from kilncore.prep.knock_out import KnockOut
from kilnmark.pictures import PICTURES, png_of
from kilnmark.pieces import actions
from kilnmark.pieces.holding import holding
from kilnmark.pieces.models import Artwork, Piece
from kilnmark.storage import assets

PICTURE_PX = 320
MOST_LISTED = 500


@dataclass(frozen=True)
class Use:
    """A piece that shows an artwork. marks : ids of those that do."""

    piece: Piece
    marks: tuple[str, ...]


def picture(artwork: Artwork) -> tuple[bytes, str]:
    """(PNG, media type), small."""
    key = ("artwork", artwork.owner_id, artwork.hash)
    return PICTURES.get(key, lambda: (_drawn(artwork), "image/png"))


def knocked_out(artwork: Artwork) -> tuple[bytes, str]:
    """The same of a picture without what may be its background."""
    key = ("artwork", artwork.owner_id, artwork.hash, artwork.unsure)
    return PICTURES.get(key, lambda: (_drawn(artwork, (artwork.unsure,)), "image/png"))


def page_picture(artwork: Artwork, number: int) -> tuple[bytes, str]:
    """The same of one page of a PDF; KilnError if it has no such page."""
    pages = artwork.facts.get("pages", ())
    if not 0 <= number < len(pages):
        raise KilnError("This PDF has no such page.", str(number))
    key = ("artwork page", artwork.owner_id, artwork.hash, number)
    return PICTURES.get(key, lambda: (_rendered(artwork.page(number)), "image/png"))


def _drawn(artwork: Artwork, colours: tuple[str, ...] = ()) -> bytes:
    if artwork.kind == "picture":
        level = max(0, int(max(artwork.width, artwork.height) // PICTURE_PX).bit_length() - 1)
        chain = (KnockOut(colours=colours, plain_holes=True),) if colours else ()
        return png_of(assets().prepared(artwork.hash, chain, min(level, 6)).planes)
    return _rendered(artwork.art)


def _rendered(art: Any) -> bytes:
    """PNG of art that is drawn in blocks."""
    scale = PICTURE_PX / max(art.width, art.height, 1e-6)
    width, height = (max(1, round(side * scale)) for side in (art.width, art.height))
    matrix = (scale, 0, 0, scale, width / 2, height / 2)
    pixels = art.block(assets().data(art.hash), matrix, width, height, scale)
    return as_image(np.ascontiguousarray(pixels)).pngsave_buffer(compression=2)


def uses_of(owner, name: str) -> list[Use]:
    """The pieces whose newest state shows an artwork in marks, the one changed last first. Pieces
    that cannot be read are left out.
    """
    found = []
    for piece in owner.pieces.here().select_related("head"):
        try:
            marks = tuple(
                mark.id for mark in piece.document.marks() if getattr(mark.art, "hash", "") == name
            )
        except KilnError:
            continue
        if marks:
            found.append(Use(piece, marks))
    return found


def counts(owner) -> dict[str, int]:
    """On how many pieces each artwork is shown, as a mark or as the ground, by its hash."""
    found: dict[str, int] = {}
    for piece in owner.pieces.here().select_related("head"):
        try:
            names = piece.document.files(ArtHash)
        except KilnError:
            continue
        for name in names:
            found[str(name)] = found.get(str(name), 0) + 1
    return found


def renamed(owner, mark: Mark, art: dict) -> tuple[str] | None:
    """(what a mark is called once it shows other art,), None if it keeps its name: one that was
    given by hand.
    """
    names = dict(owner.artworks.values_list("hash", "name"))
    old = names.get(getattr(mark.art, "hash", ""), "")
    if mark.name and mark.name.casefold() != old.casefold():
        return None
    found = art.get("hash")
    return (names.get(found, "") if isinstance(found, str) else "",)


def _replacement(piece: Piece, mark: str, art: dict, fit: str) -> dict:
    named = renamed(piece.owner, piece.document.mark(mark), art)
    edit = {"op": "replace_art", "mark": mark, "art": art, "fit": fit}
    return edit | ({"name": named[0]} if named else {})


@transaction.atomic
def replace_everywhere(piece: Piece, version: int, mark: str, art: dict, fit: str, token) -> int:
    """Other art wherever that of a mark is shown: one state, which can be undone, in each piece. On
    how many pieces.
    """
    locked = Piece.objects.select_related("owner", "head").get(pk=piece.pk)
    if token and locked.applied.filter(token=token).exists():
        return 0
    old = getattr(locked.document.mark(mark).art, "hash", None)
    if old is None:
        raise KilnError("Words are replaced here only: no other piece shares them.")
    uses = uses_of(locked.owner, old)
    for use in uses:
        here = use.piece.pk == locked.pk
        changes = [_replacement(use.piece, one, art, fit) for one in use.marks]
        changes = holding(use.piece.document, changes)
        actions.change(
            use.piece,
            version if here else use.piece.version,
            changes,
            "Art replaced everywhere",
            token if here else None,
        )
    return len(uses)
