"""Every change to a piece: check, apply, record. Used by the pages, the command line and the demo
alike.
"""

import copy
from collections.abc import Callable
from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from kilncore import edits
from kilncore.document import Piece as Document
from kilncore.errors import KilnError
from kilncore.layout.checking import check_layout
from kilnmark.pieces.changed import changed_words
from kilnmark.pieces.models import Applied, Piece, State
from kilnmark.pieces.owned import Brought, check_owned
from kilnmark.storage import assets

COPY = ", copy"
REMEMBERED = timedelta(days=30)  # for so long a change that comes again is known


class Stale(Exception):
    """The change was made on a version that is no longer the newest."""


@transaction.atomic
def start(owner, document: Document) -> Piece:
    """A new piece with that document as its first state."""
    check_owned(owner, document)
    check_layout(document)
    width, height = document.size_px
    piece = Piece.objects.create(
        owner=owner, title=document.title, width=width, height=height, ppi=document.ppi
    )
    piece.head = State.of(document, piece=piece, label="Started")
    piece.save()
    return piece


def mended(piece: Piece) -> tuple[Piece, str]:
    """(the piece, nothing) if its newest state can be read and laid out; else, standing on the last
    one that can, and what is said of it. KilnError if there is none. What is damaged stays where it
    is.
    """
    if _whole(piece.head):
        return piece, ""
    state = piece.head.parent
    while state is not None and not _whole(state):
        state = state.parent
    if state is None:
        raise KilnError("No state of this piece can be read any more. Its file is left as it is.")
    with transaction.atomic():
        piece = _newest(piece)
        _stand_on(piece, state, state.document)
    return piece, (
        f"The newest state of this piece is damaged. This is the last whole one, "
        f"“{state.label}”; what came after it could not be read."
    )


def _whole(state: State) -> bool:
    try:
        check_layout(state.document)
    except KilnError:
        return False
    return True


def copied(document: Document) -> Document:
    """The same under a title that tells it is a copy."""
    title = f"{document.title[: 120 - len(COPY)]}{COPY}"
    return document.model_copy(update={"title": title})


def change(
    piece: Piece,
    version: int,
    changes: list[dict] | Callable,
    label: str,
    token: str | None = None,
    visit: str | None = None,
    bring: Callable[[], object] = lambda: None,
    fill: Callable[[Piece, list[dict]], list[dict]] = lambda piece, edits: edits,
) -> Piece:
    """Apply edits to the newest version; Stale if `version` is not that one, KilnError if they do
    not fit.

    changes : edits, or a function from the document to edits. token : a change that is sent twice
    is applied once. visit : changes of one visit, as of words that are typed, are one state: each
    is made on what was there before the visit. bring : stores rows that the edits name. fill :
    fills edits in from what is known of the piece that they are made on.

    The edits are worked out before the database is held: nobody else's writes wait for them.
    """
    piece = _newest(piece)
    if _known(piece, token):
        return piece
    check_version(piece, version)
    before = _before(piece, visit)
    files = Brought(assets())
    found = changes(before.document) if callable(changes) else fill(_at(piece, before), changes)
    document = edits.apply(before.document, found, files)
    check_layout(document)
    with transaction.atomic():
        piece = _newest(piece)
        if _known(piece, token):
            return piece
        check_version(piece, version)
        bring()
        check_owned(piece.owner, document, files.names)
        if document != piece.document:
            files.store(piece.owner)
            _go_on(piece, document, label, before, visit)
        _note(piece, token)
        return piece


def _newest(piece: Piece) -> Piece:
    return Piece.objects.select_related("head", "head__parent", "owner").get(pk=piece.pk)


def _at(piece: Piece, state: State) -> Piece:
    """The piece, standing on one of its states; for reading alone."""
    found = copy.copy(piece)
    found.head = state
    return found


def _before(piece: Piece, visit: str | None) -> State:
    """The state that a change is made on: of a visit that goes on, the one before it."""
    head = piece.head
    return head.parent if visit and head.visit == visit and head.parent else head


@transaction.atomic
def become(
    piece: Piece, version: int, document: Document, label: str, token: str | None = None
) -> Piece:
    """One of its own earlier documents, as one more state; Stale if `version` is not the newest."""
    piece = _newest(piece)
    if _known(piece, token):
        return piece
    check_version(piece, version)
    check_owned(piece.owner, document)
    check_layout(document)
    if document != piece.document:
        _go_on(piece, document, label)
    _note(piece, token)
    return piece


def _go_on(
    piece: Piece,
    document: Document,
    label: str,
    before: State | None = None,
    visit: str | None = None,
) -> None:
    """Stand on a new state after `before`, or the present one. What a visit left on its way is not
    kept, unless it was pinned meanwhile, or a direction begins with it.
    """
    left, before = piece.head, before or piece.head
    told = {"label": label[:120], "visit": visit or "", "on": _on(before, document)}
    state = State.of(document, piece=piece, parent=before, **told)
    State.objects.filter(pk=before.pk).update(onward=state)
    _stand_on(piece, state, document)
    if left != before and not left.pins.exists() and not left.children.exists():
        left.delete()


def _on(before: State, document: Document) -> str:
    """What was changed, and of which part; nothing of a state that cannot be read."""
    try:
        return changed_words(before.document, document)
    except KilnError:
        return ""


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
    check_version(piece, version)
    state = to(piece.head)
    if state is None:
        raise KilnError(nothing)
    if state == piece.head.parent:
        State.objects.filter(pk=state.pk).update(onward=piece.head)
    _stand_on(piece, state, state.document)
    _note(piece, token)
    return piece


def _known(piece: Piece, token: str | None) -> bool:
    return token is not None and piece.applied.filter(token=token).exists()


def _note(piece: Piece, token: str | None) -> None:
    if token is not None:
        Applied.objects.create(piece=piece, token=token)
        piece.applied.filter(made__lt=timezone.now() - REMEMBERED).delete()


def check_version(piece: Piece, version: int) -> None:
    """The transaction is IMMEDIATE: nobody else writes meanwhile."""
    if piece.version != version:
        raise Stale


def _stand_on(piece: Piece, state: State, document: Document) -> None:
    piece.head, piece.version, piece.title = state, piece.version + 1, document.title
    (piece.width, piece.height), piece.ppi = document.size_px, document.ppi
    piece.save()
