"""Texture coat: a texture laid over the art, blended."""

import numpy as np

from kilncore.compose import clean
from kilncore.landing import Landing
from kilncore.model import Model
from kilncore.parts import TexturePlacement, TextureRef
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
      params=CoatParams, summary=summary, spills=lambda params: not params.keep_to_art, landing=Landing(mode="multiply", strength=0.8))
def coat(params: CoatParams, view):
    if params.texture is None:
        return None
    return Paint(as_paint(*view.texture(params.texture, params.placement)), params.keep_to_art)


def as_paint(planes: np.ndarray, share: np.ndarray | None) -> np.ndarray:
    """Sampled texture planes as what Paint takes; premultiplied with alpha where the texture has an end or alpha.

    Resampling may carry colour a hair above alpha: it is held.
    """
    if len(planes) == 4:
        return clean(planes)
    if share is None:
        return planes
    return np.concatenate([np.minimum(np.broadcast_to(planes, (3, *share.shape)), share), share[None]])
