"""Textures on the shelf, with what was measured about them and whose they are."""

import json
import uuid
from pathlib import Path

from django.conf import settings
from django.db import models

from kilncore.pixels import reading
from kilncore.system.code_version import code_version
from kilncore.textures import examining
from kilncore.textures.examining import SPAN_PX
from kilncore.textures.facts import Facts, good_for, sentences, warnings
from kilncore.textures.makers import MAKERS
from kilnmark import jobs
from kilnmark.binned import Binnable

SAMPLED_BY = code_version(
    Path(examining.__file__), Path(reading.__file__)
)  # samples outlive changes of all other code


class Texture(Binnable):
    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="textures"
    )
    name = models.CharField(max_length=80)
    hash = models.CharField(max_length=64)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    tiles = models.BooleanField(default=False)
    histogram = models.JSONField()
    coverage = models.FloatField(help_text="share darker than middle grey, 0 to 1")
    contrast = models.FloatField(help_text="standard deviation of the tones, 0 to 0.5")
    maker = models.CharField(max_length=40, blank=True)
    seed = models.PositiveBigIntegerField(null=True)
    settings = models.JSONField(default=dict)
    ppi = models.PositiveIntegerField(null=True, help_text="that it was made for")
    map = models.CharField(max_length=10, default="colour", help_text="of those that a maker gives")
    revision = models.PositiveIntegerField(default=1, help_text="of its maker")
    credit = models.CharField(max_length=120, blank=True)
    licence = models.CharField(max_length=120, blank=True)
    source = models.CharField(max_length=200, blank=True, help_text="where it came from")
    owed = models.BooleanField(default=False, help_text="credit must be given")
    tags = models.CharField(max_length=200, blank=True, help_text="words, parted by commas")
    favourite = models.BooleanField(default=False)
    facts = models.JSONField(default=dict)
    added = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-added"]
        constraints = [
            models.UniqueConstraint(fields=["owner", "hash"], name="one_texture_an_owner")
        ]

    def __str__(self):
        return self.name

    @property
    def made(self) -> dict:
        """How it was made: the same gives the same pixels, but for the map."""
        named = ("maker", "seed", "settings", "ppi", "revision", "width", "height")
        return {name: getattr(self, name) for name in named}

    @property
    def made_by(self):
        """Its maker; None where it was brought in, or its maker is gone."""
        return MAKERS.get(self.maker)

    @property
    def edges(self) -> str:
        """What lies beyond it, until one chooses otherwise."""
        return "repeat" if self.tiles else "mirror"

    @property
    def sample_key(self) -> str:
        return f"{self.hash[:24]}-{SAMPLED_BY}"

    @property
    def ref(self) -> dict:
        """As a document names it."""
        return {"hash": self.hash, "edges": self.edges}

    @property
    def ref_json(self) -> str:
        return json.dumps(self.ref)

    @property
    def measured(self) -> Facts | None:
        """What was measured of it; None until that is done."""
        try:
            return Facts(**self.facts)
        except TypeError:
            return None  # measured by an earlier version: it is measured anew

    @property
    def good_for(self) -> tuple[str, ...]:
        """What its tones serve best."""
        return good_for(self.measured) if self.measured else ()

    @property
    def warnings(self) -> tuple[str, ...]:
        return warnings(self.measured, self.tiles) if self.measured else ()

    @property
    def sentences(self) -> tuple[tuple[str, str], ...]:
        return sentences(self.measured) if self.measured else ()

    @property
    def tag_list(self) -> list[str]:
        return [tag.strip() for tag in self.tags.split(",") if tag.strip()]

    @property
    def wide_px(self) -> float:
        """Of its span, as the shelf shows it: SHOWN_PX stand for SPAN_PX."""
        return min(self.width, SPAN_PX) / SPAN_PX * 100

    @property
    def tall_px(self) -> float:
        return min(self.height, SPAN_PX) / SPAN_PX * 100


def facts_by_hash(name: str) -> Facts | None:
    """What was measured of a file that is a texture on somebody's shelf: of its pixels alone."""
    known = Texture.objects.filter(hash=name).first()
    return known.measured if known else None


class Making(jobs.Job):
    """A texture that a maker is asked to make. texture : what came of it."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="makings"
    )
    maker = models.CharField(max_length=40)
    name = models.CharField(max_length=80)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    seed = models.PositiveBigIntegerField()
    settings = models.JSONField(default=dict)
    ppi = models.PositiveIntegerField(default=300)
    maps = models.JSONField(default=list, help_text="that are kept beside what it looks like")
    replaces = models.ForeignKey(
        Texture, on_delete=models.SET_NULL, null=True, related_name="replaced_by"
    )
    texture = models.ForeignKey(Texture, on_delete=models.SET_NULL, null=True)

    def __str__(self):
        return self.name
