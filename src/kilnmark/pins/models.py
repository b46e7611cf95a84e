"""Pinned versions: states of a piece that are kept by name, to compare with or return to."""

import uuid

from django.db import models

from kilnmark.binned import Binnable
from kilnmark.pieces.models import Piece, State


class Pin(Binnable):
    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="pins")
    state = models.ForeignKey(State, on_delete=models.CASCADE, related_name="pins")
    name = models.CharField(max_length=60)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-made"]

    def __str__(self):
        return f"{self.piece.title}, {self.name}"
