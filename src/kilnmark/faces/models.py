"""Fonts that their owners brought in, as the sanitiser wrote them."""

from django.conf import settings
from django.db import models

from kilncore.typesetting.intake import embedding_words
from kilnmark.binned import Binnable


class Font(Binnable):
    """facts : licence, copyright, embedding (fsType), characters, features, axes."""

    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="fonts"
    )
    hash = models.CharField(max_length=64)
    family = models.CharField(max_length=200)
    style = models.CharField(max_length=200, blank=True)
    facts = models.JSONField(default=dict)
    added = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["family", "style"]
        constraints = [models.UniqueConstraint(fields=["owner", "hash"], name="one_font_an_owner")]

    def __str__(self):
        return f"{self.family} {self.style}".strip()

    @property
    def rights(self) -> str:
        """What its maker allows, in words."""
        return embedding_words(self.facts.get("embedding", 0))
