"""Every change to a piece: check, apply, record. Used by the pages, the command line and the demo
alike.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import timedelta
from pathlib import PurePath

from django.db import transaction
from django.utils import timezone

from kilncore import edits
from kilncore.artwork.intake import brought_in
from kilncore.assets import Unsaved
from kilncore.document import Piece as Document
from kilncore.errors import KilnError
from kilncore.model.files import ArtHash, StrokesHash, TextureHash
from kilnmark.pieces.models import Applied, Artwork, Piece, State, StrokeFile
from kilnmark.shelf.models import Texture
from kilnmark.storage import assets

ROWS = {
    TextureHash: Texture,
    ArtHash: Artwork,
    StrokesHash: StrokeFile,
}  # whose a file of each type is
REMEMBERED = timedelta(days=30)  # for so long a change that comes again is known


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
    width, height = document.size_px
    piece = Piece.objects.create(
        owner=owner, title=document.title, width=width, height=height, ppi=document.ppi
    )
    piece.head = State.of(document, piece=piece, label="Started")
    piece.save()
    return piece


def change(
    piece: Piece, version: int, changes: list[dict] | Callable, label: str, token: str | None = None
) -> Piece:
    """Apply edits to the newest version; Stale if `version` is not that one, KilnError if they do
    not fit.

    changes : edits, or a function from the document to edits. token : a change that is sent twice
    is applied once.
    """
    with transaction.atomic():
        piece = Piece.objects.select_related("head", "owner").get(pk=piece.pk)
        if _known(piece, token):
            return piece
        _check_version(piece, version)
        files = Brought(assets())
        found = changes(piece.document) if callable(changes) else changes
        document = edits.apply(piece.document, found, files)
        check_owned(piece.owner, document, files.names)
        if document != piece.document:
            files.store(piece.owner)
            state = State.of(document, piece=piece, parent=piece.head, label=label[:120])
            State.objects.filter(pk=piece.head_id).update(onward=state)
            _stand_on(piece, state, document)
        _note(piece, token)
        return piece


@transaction.atomic
def undo(piece: Piece, version: int, token: str | None = None) -> Piece:
    return _step(
        piece,
        version,
        token,
        lambda head: head.parent,
        "There is nothing to undo: this is how the piece began.",
    )


@transaction.atomic
def redo(piece: Piece, version: int, token: str | None = None) -> Piece:
    return _step(piece, version, token, lambda head: head.onward, "There is nothing to redo.")


def _step(piece: Piece, version: int, token: str | None, to: Callable, nothing: str) -> Piece:
    """Stand on another state of the history, from which one can come back."""
    piece = Piece.objects.select_related("head", "head__parent", "head__onward", "owner").get(
        pk=piece.pk
    )
    if _known(piece, token):
        return piece
    _check_version(piece, version)
    state = to(piece.head)
    if state is None:
        raise KilnError(nothing)
    if state == piece.head.parent:
        State.objects.filter(pk=state.pk).update(onward=piece.head)
    _stand_on(piece, state, state.document)
    _note(piece, token)
    return piece


@transaction.atomic
def remove(piece: Piece) -> None:
    """The piece and its history; textures, artworks and fired files stay."""
    piece.delete()


def bring_in_svg(owner, name: str, data: bytes) -> BroughtIn:
    """Make an SVG safe, draw it once to be sure that it can be drawn, and keep it. UnusableFile
    keeps nothing.
    """
    return _kept(owner, name, brought_in(data))


def add_svg(
    piece: Piece, version: int, name: str, data: bytes, mark: Callable, token: str | None = None
) -> tuple[str, ...]:
    """Bring an SVG onto a piece as a mark(document, artwork); what was left out of it. Stale keeps
    nothing.
    """
    if token and piece.applied.filter(token=token).exists():
        return ()
    _check_version(Piece.objects.get(pk=piece.pk), version)
    safe = brought_in(data)  # takes its time: nobody else's writes wait for it
    with transaction.atomic():
        locked = Piece.objects.select_related("owner").get(pk=piece.pk)
        if _known(locked, token):
            return ()
        _check_version(locked, version)
        found = _kept(locked.owner, name, safe)
        change(
            locked,
            version,
            lambda document: [{"op": "add_mark", "mark": mark(document, found.artwork)}],
            "Mark brought in",
            token,
        )
    return found.left_out


def _kept(owner, name: str, safe) -> BroughtIn:
    artwork, _ = Artwork.objects.get_or_create(
        owner=owner,
        hash=assets().keep(safe.data),
        defaults={
            "name": PurePath(name).stem[:80] or "Artwork",
            "width": safe.width,
            "height": safe.height,
        },
    )
    return BroughtIn(artwork, safe.left_out)


def check_owned(owner, document: Document, brought: Iterable[str] = ()) -> None:
    """Every file that a document names must be its owner's own, or brought by the change itself."""
    named, known = document.files(), {(StrokesHash, name) for name in brought}
    for kind, rows in ROWS.items():
        found = rows.objects.filter(owner=owner, hash__in=document.files(kind)).values_list(
            "hash", flat=True
        )
        known |= {(kind, name) for name in found}
    if missing := {name for name in named if (type(name), str(name)) not in known}:
        raise KilnError(
            "This piece names a texture or artwork that is not yours, or no longer there.",
            str(sorted(missing))[:300],
        )


class Brought(Unsaved):
    """The files that a change brings: stored when the change is."""

    @property
    def names(self) -> set[str]:
        return set(self._added)

    def store(self, owner) -> None:
        for data in self._added.values():
            StrokeFile.objects.get_or_create(owner=owner, hash=assets().keep(data))


def _known(piece: Piece, token: str | None) -> bool:
    return token is not None and piece.applied.filter(token=token).exists()


def _note(piece: Piece, token: str | None) -> None:
    if token is not None:
        Applied.objects.create(piece=piece, token=token)
        piece.applied.filter(made__lt=timezone.now() - REMEMBERED).delete()


def _check_version(piece: Piece, version: int) -> None:
    """The transaction is IMMEDIATE: nobody else writes meanwhile."""
    if piece.version != version:
        raise Stale


def _stand_on(piece: Piece, state: State, document: Document) -> None:
    piece.head, piece.version, piece.title = state, piece.version + 1, document.title
    (piece.width, piece.height), piece.ppi = document.size_px, document.ppi
    piece.save()
