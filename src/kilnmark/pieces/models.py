"""Pieces, their history, and the artworks brought in for them."""

import hashlib
import uuid
import zlib
from dataclasses import dataclass
from functools import cached_property

from django.conf import settings
from django.db import models

from kilncore.artwork import ARTS, Art
from kilncore.document import Piece as Document
from kilncore.document import dump, load
from kilncore.errors import KilnError
from kilncore.prep.knock_out import KnockOut
from kilncore.system.budget import budget_of
from kilncore.system.cache import ByteCache
from kilncore.system.code_version import VERSION
from kilnmark.binned import Binnable
from kilnmark.storage import assets


class Piece(Binnable):
    """`version` counts every change of the head, undo and redo included: a stale one is refused."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="pieces"
    )
    title = models.CharField(max_length=120)
    width = models.PositiveIntegerField(default=0)
    height = models.PositiveIntegerField(default=0)
    ppi = models.FloatField(default=300)
    version = models.PositiveIntegerField(default=1)
    head = models.ForeignKey("State", on_delete=models.RESTRICT, null=True, related_name="+")
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-changed"]

    def __str__(self):
        return self.title

    @property
    def document(self) -> Document:
        return self.head.document

    @property
    def card_key(self) -> str:
        """Of the picture of its head as it stands, drawn by this version of Kilnmark."""
        return f"{self.head_id}-{VERSION}"


class Applied(models.Model):
    """A change that was applied, by the token that its sender gave it: sent again, it is known."""

    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="applied")
    token = models.CharField(max_length=60)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["piece", "token"], name="applied_once")]

    def __str__(self):
        return self.token


class State(models.Model):
    """One state of a piece, whole. History is a tree: undo goes to the parent, redo to the child
    last stood on.

    Nothing is cut off when one undoes and then takes another way; the old way stays in the table.
    visit : which changes go into one state, as words while they are typed. on : what was changed,
    and of which part.
    """

    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="states")
    parent = models.ForeignKey("self", on_delete=models.CASCADE, null=True, related_name="children")
    onward = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, related_name="+")
    label = models.CharField(max_length=120)
    visit = models.CharField(max_length=60, default="", blank=True)
    on = models.CharField(max_length=80, default="", blank=True)
    compressed = models.BinaryField()
    made = models.DateTimeField(auto_now_add=True)

    def __str__(self):
        return self.label

    @property
    def document(self) -> Document:
        """The document, read once for its content: a state never changes."""
        return READ.get(self.digest, self._read).document

    def _read(self) -> "_Read":
        try:
            data = zlib.decompress(self.compressed)
        except zlib.error:
            raise KilnError(
                "This piece cannot be read: its document is damaged. Its other states may be whole."
            ) from None
        return _Read(load(data, assets()), len(self.compressed))

    @cached_property
    def digest(self) -> str:
        """A hash of its content."""
        return hashlib.blake2b(self.compressed, digest_size=16).hexdigest()

    @classmethod
    def of(cls, document: Document, **more) -> "State":
        """A new state of that document, in the table."""
        state = cls.objects.create(compressed=zlib.compress(dump(document).encode()), **more)
        READ.put(state.digest, _Read(document, len(state.compressed)))
        return state


@dataclass(frozen=True)
class _Read:
    """nbytes : about what a document takes in memory, from its compressed size."""

    document: Document
    compressed: int

    @property
    def nbytes(self) -> int:
        return 60 * self.compressed


READ = ByteCache(budget_of("documents"))


class StrokeFile(models.Model):
    """A stroke file of its owner, by the hash of its content."""

    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="stroke_files"
    )
    hash = models.CharField(max_length=64)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["owner", "hash"], name="one_stroke_file_an_owner")
        ]

    def __str__(self):
        return self.hash


class Artwork(Binnable):
    """An artwork of its owner by the hash of its file: a drawing, made safe, or a picture as it
    came. facts : what its sheet shows of it (`kilncore.artwork.intake`).
    """

    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="artworks"
    )
    name = models.CharField(max_length=80)
    hash = models.CharField(max_length=64)
    kind = models.CharField(max_length=20, default="vector")
    width = models.FloatField()
    height = models.FloatField()
    facts = models.JSONField(default=dict)
    added = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["owner", "hash"], name="one_artwork_an_owner")
        ]

    def __str__(self):
        return self.name

    @property
    def art_json(self) -> str:
        """Its art, as an edit names it."""
        return self.art.model_dump_json()

    @property
    def art(self) -> Art:
        """The art of a mark that shows it; of a PDF its first page."""
        if self.kind == "page":
            return self.page(0)
        return ARTS.settings(self.kind, {"kind": self.kind, "hash": self.hash, **self._size})

    def page(self, number: int) -> Art:
        """The art of one page of a PDF."""
        width, height, scale = self.facts["pages"][number]
        told = {"page": number, "width": width, "height": height, "scale": scale}
        return ARTS.settings("page", {"kind": "page", "hash": self.hash, **told})

    @property
    def begun(self) -> Art:
        """The art that a mark begins with: a picture on a plain background has that knocked out."""
        plain = self.facts.get("plain") if self.kind == "picture" else None
        return self.knocked_out(plain) if plain else self.art

    def knocked_out(self, colour: str) -> Art:
        """The art of a picture with a background of that colour knocked out."""
        return self.art.model_copy(
            update={"chain": (KnockOut(colours=(colour,), plain_holes=True),)}
        )

    @property
    def unsure(self) -> str:
        """The colour of what may be a background or a part of a photograph; '' where that is
        known.
        """
        return self.facts.get("perhaps") or "" if self.kind == "picture" else ""

    @property
    def _size(self) -> dict:
        whole = self.kind == "picture"
        return {
            name: int(value) if whole else value
            for name, value in (("width", self.width), ("height", self.height))
        }
