"""Directions: up to three ways that a piece could go, side by side, none of which it stands on."""

import uuid

from django.db import models

from kilnmark.pieces.models import Piece, State

PLACES = (1, 2, 3)


class Direction(models.Model):
    """part : whose treatment it is about. name : of the look that it began with."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="directions")
    place = models.PositiveSmallIntegerField()
    state = models.ForeignKey(State, on_delete=models.CASCADE, related_name="directions")
    part = models.CharField(max_length=60)
    name = models.CharField(max_length=60)

    class Meta:
        ordering = ["place"]
        constraints = [
            models.UniqueConstraint(fields=["piece", "place"], name="one_direction_a_place")
        ]

    def __str__(self):
        return f"{self.piece.title}, {self.name}"

    @property
    def steps(self):
        """Of the part that it is about; none if that is no longer on it."""
        return self.state.document.treatments().get(self.part, ())
