"""The parts that steps, grounds and marks share: landing, and a texture with its place."""

from typing import Annotated

from pydantic import AfterValidator, Field, StringConstraints

from kilncore.model import Model
from kilncore.modes import BLEND_MODES
from kilncore.units import Length, px

Hash = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]
Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9-]{1,40}$")]


def _known_mode(name: str) -> str:
    if name not in BLEND_MODES:
        raise ValueError(f"a blend mode must be one of {', '.join(BLEND_MODES)}")
    return name


class Landing(Model):
    """How a step's result meets the step's input, or a mark what lies beneath it."""

    mode: Annotated[str, AfterValidator(_known_mode)] = "normal"
    strength: float = Field(1.0, ge=0, le=3)


class TextureRef(Model):
    """A texture by content. `tiles`: it repeats without a seam; otherwise it is mirrored at its edges."""

    hash: Hash
    tiles: bool = True


class TexturePlacement(Model):
    """A texture's place in the frame of what it treats; it moves and turns with it.

    x, y : of the texture's middle, from the middle of the mark (or piece). scale : document px per texture px.
    """

    x: Length = px(0)
    y: Length = px(0)
    scale: float = Field(1.0, ge=0.02, le=50)
    rotation_deg: float = Field(0.0, ge=-360, le=360)
    flip_x: bool = False
    flip_y: bool = False
