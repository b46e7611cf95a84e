"""Whose the files are that a document names, and those that a change brings."""

import json
import re
from collections.abc import Iterable

from kilncore.assets import Unsaved
from kilncore.document import Piece as Document
from kilncore.errors import KilnError
from kilncore.model.files import ArtHash, FontHash, PageHash, PictureHash, StrokesHash, TextureHash
from kilnmark.faces.models import Font
from kilnmark.pieces.models import Artwork, StrokeFile
from kilnmark.shelf.models import Texture
from kilnmark.storage import assets

ROWS = {
    TextureHash: Texture,
    ArtHash: Artwork,
    PictureHash: Artwork,
    PageHash: Artwork,
    FontHash: Font,
    StrokesHash: StrokeFile,
}  # whose a file of each type is
OF_KIND = {ArtHash: "vector", PictureHash: "picture", PageHash: "page"}
NAME = re.compile("[0-9a-f]{64}")


def names_files(edits: list[dict]) -> bool:
    """Whether edits could bring in a file by its name: without one in them, a document names what
    it named.
    """
    return bool(NAME.search(json.dumps(edits)))


def check_owned(owner, document: Document, brought: Iterable[str] = ()) -> None:
    """Every file that a document names must be its owner's own, or brought by the change itself."""
    named, known = document.files(), {(StrokesHash, name) for name in brought}
    for kind, rows in ROWS.items():
        of_kind = {name for name in named if type(name) is kind}
        found = rows.objects.filter(owner=owner, hash__in=of_kind)
        if rows is Artwork:
            found = found.filter(kind=OF_KIND[kind])
        known |= {(kind, name) for name in found.values_list("hash", flat=True)}
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
