"""A texture's place: what fills and steps share."""

from pydantic import Field

from kilncore.model.base import Model
from kilncore.model.units import Length, px


class TexturePlacement(Model):
    """A texture's place in the frame of what it treats; it moves and turns with it.

    x, y : of the texture's middle, from the frame's origin. scale : document px per texture px.
    """

    x: Length = px(0)
    y: Length = px(0)
    scale: float = Field(1.0, ge=0.02, le=50)
    rotation_deg: float = Field(0.0, ge=-360, le=360)
    flip_x: bool = False
    flip_y: bool = False
