"""Texture coat: a texture laid over the art, blended."""

import numpy as np

from kilncore.model import Model
from kilncore.parts import Landing, TexturePlacement, TextureRef
from kilncore.steps.base import Paint, setting, step


class CoatParams(Model):
    texture: TextureRef | None = setting(None, "Texture", "What is laid over.", "texture")
    keep_to_art: bool = setting(True, "Keep to the art", "Off, it spills over onto all that lies around.", "toggle")
    placement: TexturePlacement = setting(TexturePlacement(), "Texture on the piece", "Where the texture lies.", "placement")


def summary(params: CoatParams) -> str:
    if params.texture is None:
        return "no texture yet"
    return "on the art" if params.keep_to_art else "spilling over"


@step("coat", title="Texture coat", sentence="A texture is laid over the art, blended.", gives="paint",
      params=CoatParams, summary=summary, landing=Landing(mode="multiply", strength=0.8))
def coat(params: CoatParams, view):
    if params.texture is None:
        return None
    return Paint(as_picture(view.texture(params.texture, params.placement)), params.keep_to_art)


def as_picture(planes: np.ndarray) -> np.ndarray:
    """Sampled texture planes, grey, colour or colour with alpha, as (4, H, W)."""
    if len(planes) == 4:
        return planes
    picture = np.ones((4, *planes.shape[1:]), np.float32)
    picture[:3] = planes
    return picture
