"""Every change to a piece: check, apply, record. Used by the pages, the command line and the demo alike."""

from dataclasses import dataclass
from pathlib import PurePath

from django.db import transaction

from kilncore import edits
from kilncore.artwork.safe_svg import sanitise
from kilncore.artwork.vector import rasterised
from kilncore.document import Piece as Document
from kilncore.errors import KilnError
from kilnmark.pieces.models import Artwork, Piece, State
from kilnmark.shelf.models import Texture
from kilnmark.storage import assets


class Stale(Exception):
    """The change was made on a version that is no longer the newest."""


@dataclass(frozen=True)
class BroughtIn:
    artwork: Artwork
    left_out: tuple[str, ...]


@transaction.atomic
def start(owner, document: Document) -> Piece:
    """A new piece with that document as its first state."""
    check_owned(owner, document)
    piece = Piece.objects.create(owner=owner, title=document.title)
    piece.head = State.objects.create(piece=piece, label="Started", compressed=State.packed(document))
    piece.save()
    return piece


@transaction.atomic
def change(piece: Piece, version: int, changes: list[dict], label: str) -> Piece:
    """Apply edits to the newest version; Stale if `version` is not that one, KilnError if they do not fit."""
    piece = _locked(piece, version)
    document = edits.apply(piece.document, changes)
    check_owned(piece.owner, document)
    if document == piece.document:
        return piece
    state = State.objects.create(piece=piece, parent=piece.head, label=label[:120], compressed=State.packed(document))
    State.objects.filter(pk=piece.head_id).update(onward=state)
    return _stand_on(piece, state)


@transaction.atomic
def undo(piece: Piece, version: int) -> Piece:
    piece = _locked(piece, version)
    if piece.head.parent is None:
        raise KilnError("There is nothing to undo: this is how the piece began.")
    State.objects.filter(pk=piece.head.parent_id).update(onward=piece.head)
    return _stand_on(piece, piece.head.parent)


@transaction.atomic
def redo(piece: Piece, version: int) -> Piece:
    piece = _locked(piece, version)
    if piece.head.onward is None:
        raise KilnError("There is nothing to redo.")
    return _stand_on(piece, piece.head.onward)


@transaction.atomic
def remove(piece: Piece) -> None:
    """The piece and its history; textures, artworks and fired files stay."""
    piece.delete()


def bring_in_svg(owner, name: str, data: bytes) -> BroughtIn:
    """Sanitise an SVG, draw it once to be sure that it can be drawn, and keep it. UnusableFile keeps nothing."""
    safe = sanitise(data)
    scale = 256 / max(safe.width, safe.height)
    rasterised(safe.data, (safe.width, safe.height), (scale, 0, 0, scale, 128, 128), 256, 256)
    artwork, _ = Artwork.objects.get_or_create(
        owner=owner, hash=assets().keep(safe.data),
        defaults={"name": PurePath(name).stem[:80] or "Artwork", "width": safe.width, "height": safe.height},
    )
    return BroughtIn(artwork, safe.left_out)


def check_owned(owner, document: Document) -> None:
    """Every file that a document names must be its owner's own."""
    textures, artworks = document.textures(), document.artworks()
    known = set(Texture.objects.filter(owner=owner, hash__in=textures).values_list("hash", flat=True))
    known |= set(Artwork.objects.filter(owner=owner, hash__in=artworks).values_list("hash", flat=True))
    if missing := (textures | artworks) - known:
        raise KilnError("This piece names a texture or artwork that is not yours, or no longer there.", str(sorted(missing)))


def _locked(piece: Piece, version: int) -> Piece:
    """The piece as the database has it now. The transaction is IMMEDIATE: nobody else writes meanwhile."""
    piece = Piece.objects.select_related("head", "head__parent", "head__onward", "owner").get(pk=piece.pk)
    if piece.version != version:
        raise Stale
    return piece


def _stand_on(piece: Piece, state: State) -> Piece:
    piece.head, piece.version, piece.title = state, piece.version + 1, state.document.title
    piece.save()
    piece.head.refresh_from_db()
    return piece
