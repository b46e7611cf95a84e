"""Pieces, their history, and the artworks brought in for them."""

import uuid
import zlib

from django.conf import settings
from django.db import models

from kilncore.document import Piece as Document
from kilncore.document import dump, load


class Piece(models.Model):
    """`version` counts every change of the head, undo and redo included: a stale one is refused."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="pieces")
    title = models.CharField(max_length=120)
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


class State(models.Model):
    """One state of a piece, whole. History is a tree: undo goes to the parent, redo to the child last stood on.

    Nothing is cut off when one undoes and then takes another way; the old way stays in the table.
    """

    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="states")
    parent = models.ForeignKey("self", on_delete=models.CASCADE, null=True, related_name="children")
    onward = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, related_name="+")
    label = models.CharField(max_length=120)
    compressed = models.BinaryField()
    made = models.DateTimeField(auto_now_add=True)

    def __str__(self):
        return self.label

    @property
    def document(self) -> Document:
        return load(zlib.decompress(self.compressed))

    @staticmethod
    def packed(document: Document) -> bytes:
        return zlib.compress(dump(document).encode())


class Artwork(models.Model):
    """A vector artwork of its owner: the sanitised file, by the hash of its content."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="artworks")
    name = models.CharField(max_length=80)
    hash = models.CharField(max_length=64)
    width = models.FloatField()
    height = models.FloatField()
    added = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "hash"], name="one_artwork_an_owner")]

    def __str__(self):
        return self.name
