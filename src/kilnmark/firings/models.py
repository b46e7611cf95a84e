"""Firings: what was made, from which state of the piece."""

import re
import uuid

from django.conf import settings
from django.db import models

from kilncore.output.contents import CONTENTS
from kilncore.output.formats import FORMATS
from kilnmark import jobs
from kilnmark.pieces.models import Piece

ZIP = "zip"


class Firing(jobs.Job):
    Stage, AS_IT_WAS = jobs.Stage, "The piece is as it was."

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="firings"
    )
    piece = models.ForeignKey(Piece, on_delete=models.SET_NULL, null=True, related_name="firings")
    title = models.CharField(max_length=120)
    document = models.JSONField()
    with_ground = models.BooleanField(default=True)
    of_direction = models.BooleanField(default=False)
    file_format = models.CharField(max_length=20, default="png")
    content = models.CharField(max_length=20, default="piece")
    seconds = models.FloatField(null=True)
    bytes = models.PositiveBigIntegerField(null=True)

    def __str__(self):
        return f"{self.title} ({self.get_stage_display()})"

    @property
    def path(self):
        return settings.DATA / "fired" / f"{self.id}.{self.suffix}"

    @property
    def format(self):
        """Of FORMATS, as what it is written."""
        return FORMATS.named(self.file_format)

    @property
    def fires(self):
        """Of CONTENTS, what is in it."""
        return CONTENTS.named(self.content)

    @property
    def suffix(self) -> str:
        return ZIP if self.fires.several else self.format.suffix

    @property
    def media_type(self) -> str:
        return f"application/{ZIP}" if self.fires.several else self.format.media_type

    @property
    def file_title(self) -> str:
        """What the file is, for people."""
        return ZIP if self.fires.several else self.format.title

    @property
    def file_name(self) -> str:
        safe = re.sub(r"[\W_]+", "-", self.title.lower()).strip("-") or "piece"
        whole = "" if self.with_ground else "-no-ground"
        return (
            f"{safe}-{self.content}.{ZIP}" if self.fires.several else f"{safe}{whole}.{self.suffix}"
        )
