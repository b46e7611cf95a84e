"""Recipes: treatments kept by their owner, or that ship with Kilnmark."""

import uuid

from django.conf import settings
from django.db import models
from pydantic import ValidationError

from kilncore.errors import KilnError
from kilncore.recipe import Recipe as Treatment
from kilnmark.binned import Binnable

GROUPS = (("worn", "Worn"), ("printed", "Printed"), ("surface", "In the surface"))


class Recipe(Binnable):
    """stored : the treatment, as JSON. shipped : the name that it ships under, '' of one's own."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="recipes"
    )
    name = models.CharField(max_length=60)
    note = models.CharField(max_length=300, blank=True)
    group = models.CharField(max_length=12, choices=GROUPS, default="worn")
    stored = models.JSONField()
    shipped = models.CharField(max_length=40, blank=True)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-made"]

    def __str__(self):
        return self.name

    @property
    def treatment(self) -> Treatment:
        """As the core knows it."""
        try:
            return Treatment.model_validate(self.stored)
        except ValidationError as error:
            raise KilnError("This recipe cannot be read.", str(error)[:200]) from None
