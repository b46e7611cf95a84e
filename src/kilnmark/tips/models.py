"""What the hand keeps: tips made of one's own textures, and strokes kept under a name."""

import json

from django.conf import settings
from django.db import models

from kilnmark.binned import Binnable


class Tip(Binnable):
    """told : as `kilncore.strokes.tip` tells it, which strokes carry."""

    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="tips"
    )
    name = models.CharField(max_length=40)
    told = models.TextField()
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["made"]

    def __str__(self):
        return self.name


class StrokeSet(Binnable):
    """files : the names of stroke files, in order."""

    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="stroke_sets"
    )
    name = models.CharField(max_length=40)
    files = models.JSONField()
    made = models.DateTimeField(auto_now_add=True)

    @property
    def files_json(self) -> str:
        """For the button that lays them."""
        return json.dumps(self.files)

    class Meta:
        ordering = ["-made"]

    def __str__(self):
        return self.name
