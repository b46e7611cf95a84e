"""Files that become art: of a new piece, of one that is there, or for later."""

import re
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import PurePath

from django.db import transaction

from kilncore.artwork.intake import BroughtIn, brought_in
from kilncore.errors import UnusableFile
from kilncore.system.hardware import PROCESSORS
from kilnmark.pieces.actions import change, check_version, start
from kilnmark.pieces.models import Artwork, Piece
from kilnmark.storage import assets


@dataclass(frozen=True)
class Upload:
    """A file as it was sent."""

    name: str
    data: bytes


def bring_in(owner, name: str, data: bytes) -> Artwork:
    """Make sure that a drawing or picture can be shown, and keep it. UnusableFile keeps nothing."""
    return _kept(_artwork(owner, name, brought_in(data)))


def start_from(
    owner, upload: Upload, describe: Callable, asks: Callable = lambda artwork: False
) -> Piece | Artwork:
    """A new piece made of a file: describe(artwork) is its document. asks(artwork) : whether its
    owner has to be asked first what it is; then the artwork alone.
    """
    found = brought_in(upload.data)
    with transaction.atomic():
        artwork = _kept(_artwork(owner, upload.name, found))
        return artwork if asks(artwork) else start(owner, describe(artwork))


def bring_onto(
    piece: Piece,
    version: int,
    uploads: list[Upload],
    edits_of: Callable,
    label: Callable[[int], str],
    token: str | None = None,
) -> tuple[str, ...]:
    """Bring files onto a piece as one change, edits_of(document, artworks), called label(how many
    came in); what was left out or refused, in words. UnusableFile if none can be used; then, and if
    Stale, nothing is kept.
    """
    if token and piece.applied.filter(token=token).exists():
        return ()
    check_version(Piece.objects.get(pk=piece.pk), version)
    found, notes = _examined(uploads)  # takes its time: nobody else's writes wait for it
    artworks = [_artwork(piece.owner, name, one) for name, one in found]
    change(
        piece,
        version,
        lambda document: edits_of(document, artworks),
        label(len(found)),
        token,
        bring=lambda: [_kept(row) for row in artworks],
    )
    return notes


def _examined(uploads: list[Upload]) -> tuple[list, tuple[str, ...]]:
    """([(name, what it is), ...], notes) of those that can be used; UnusableFile if none can."""
    found, notes, refused = [], [], []
    with ThreadPoolExecutor(PROCESSORS) as threads:  # each only waits for a child
        examined = list(threads.map(_examined_one, uploads))
    for upload, one in zip(uploads, examined, strict=True):
        if isinstance(one, UnusableFile):
            refused.append(f"{_short(upload.name)}: {one.message}")
            continue
        found.append((upload.name, one))
        notes += [f"{_short(upload.name)}: {note}." for note in one.notes]
    if not found:
        alone = len(refused) == 1
        raise UnusableFile(refused[0].split(": ", 1)[1] if alone else " ".join(refused)[:600])
    return found, tuple(refused + notes)


def _examined_one(upload: Upload) -> BroughtIn | UnusableFile:
    try:
        return brought_in(upload.data)
    except UnusableFile as error:
        return error


def _short(name: str) -> str:
    return PurePath(name).name[:40]


def _title(name: str) -> str:
    """A file's name in words."""
    return " ".join(re.split(r"[\s_-]+", PurePath(name).stem)).strip()[:80] or "Artwork"


def _artwork(owner, name: str, found: BroughtIn) -> Artwork:
    """What came in, its file kept, and no row of it yet."""
    return Artwork(
        owner=owner,
        hash=assets().keep(found.data),
        name=_title(name),
        kind=found.kind,
        width=found.width,
        height=found.height,
        facts=found.facts,
    )


def _kept(artwork: Artwork) -> Artwork:
    """Its row; one that its owner has already comes back out of the bin."""
    known = Artwork.objects.filter(owner=artwork.owner, hash=artwork.hash).first()
    if known is None:
        artwork.save()
        return artwork
    known.facts, known.binned = known.facts or artwork.facts, None
    known.save()
    return known
