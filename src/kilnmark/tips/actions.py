"""Making tips of textures, and keeping strokes by a name."""

from collections.abc import Mapping
from typing import Literal

from pydantic import Field, ValidationError

from kilncore.errors import KilnError
from kilncore.model.base import Model
from kilncore.strokes.tip import tip_from
from kilnmark.storage import assets
from kilnmark.tips.models import StrokeSet, Tip

MOST_TIPS, MOST_SETS = 24, 60


class Part(Model):
    """A square of a texture. of : which of its tones cover. share : of its shorter side. x, y : its
    middle, shares of the width and the height.
    """

    of: Literal["darks", "lights"] = "darks"
    share: float = Field(1.0, ge=0.02, le=1)
    x: float = Field(0.5, ge=0, le=1)
    y: float = Field(0.5, ge=0, le=1)


def part_of(told: Mapping[str, str]) -> Part:
    """As a form tells it: share, x and y in %. KilnError if it is none."""
    try:
        shares = {name: float(told[name]) / 100 for name in ("share", "x", "y") if name in told}
        return Part.model_validate({"of": told.get("of", "darks"), **shares})
    except (ValueError, ValidationError) as error:
        raise KilnError("A part of a texture is 2 to 100 %, its place 0 to 100 %.") from error


def made_of(texture, part: Part):
    """The tip that a part makes."""
    planes = assets().source(texture.hash).planes
    return tip_from(planes, part.of == "darks", part.share, (part.x, part.y))


def make(texture, name: str, part: Part) -> Tip:
    """A tip of a part of a texture."""
    owner = texture.owner
    if owner.tips.here().count() >= MOST_TIPS:
        raise KilnError(f"There are {MOST_TIPS} tips of your own already. Throw one away first.")
    tip = made_of(texture, part)
    name = name.strip()[:40] or texture.name[:40]
    return Tip.objects.create(owner=owner, name=name, told=tip.told)


def keep(owner, files: tuple[str, ...], name: str) -> StrokeSet:
    """Strokes by the names of their files, under a name."""
    if not files:
        raise KilnError("There are no strokes here to keep.")
    if owner.stroke_sets.here().count() >= MOST_SETS:
        raise KilnError(f"There are {MOST_SETS} sets already. Throw one away first.")
    told = [str(one) for one in files]
    return StrokeSet.objects.create(owner=owner, name=name.strip()[:40] or "Strokes", files=told)
