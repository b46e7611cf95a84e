"""Named preps of textures: chains of operations kept on the shelf."""

import json
import uuid

from django.conf import settings
from django.db import models

from kilncore.prep.chain import TextureChain, makes_seamless
from kilncore.textures.prep import chain_of
from kilnmark.binned import Binnable
from kilnmark.shelf.models import Texture


class Prep(Binnable):
    """past, future : [label, chain] of the states before and after this one, the nearest last.
    tokens : of the changes that were applied lately.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="preps"
    )
    texture = models.ForeignKey(Texture, on_delete=models.CASCADE, related_name="preps")
    name = models.CharField(max_length=60)
    stored = models.JSONField(default=list)
    version = models.PositiveIntegerField(default=1)
    past = models.JSONField(default=list)
    future = models.JSONField(default=list)
    tokens = models.JSONField(default=list)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["texture", "name"]

    def __str__(self):
        return f"{self.texture.name}, {self.name}"

    @property
    def chain(self) -> TextureChain:
        return chain_of(self.stored)

    @property
    def ref(self) -> dict:
        """As a document names the texture prepared so."""
        edges = "repeat" if makes_seamless(self.chain) else self.texture.edges
        return {**self.texture.ref, "edges": edges, "chain": self.stored, "prep": str(self.id)}

    @property
    def ref_json(self) -> str:
        return json.dumps(self.ref)
