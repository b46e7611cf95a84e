"""Wear: a texture as a mask takes the art away. White reveals, black conceals."""

import math

from pydantic import model_validator

from kilncore.model import Model
from kilncore.parts import TexturePlacement, TextureRef
from kilncore.steps.base import Cover, setting, step


class WearParams(Model):
    texture: TextureRef | None = setting(None, "Texture", "Its dark parts take the art away.", "texture")
    black: float = setting(0.3, "Hidden up to", "Tones up to here are taken away.", "levels", ge=0, le=1)
    gamma: float = setting(1.0, "Middle", "Above 1 keeps more, below 1 takes more.", "levels", ge=0.1, le=10)
    white: float = setting(0.6, "Shown from", "Tones from here on are left whole.", "levels", ge=0, le=1)
    invert: bool = setting(False, "Invert", "Swap what is taken and what is kept.", "toggle")
    placement: TexturePlacement = setting(TexturePlacement(), "Texture on the piece", "Where the texture lies.", "placement")

    @model_validator(mode="after")
    def _in_order(self):
        if self.black > self.white:
            raise ValueError("the black point must not lie above the white point")
        return self


def summary(params: WearParams) -> str:
    if params.texture is None:
        return "no texture yet"
    turned = ", inverted" if params.invert else ""
    return f"hidden to {math.floor(params.black * 255 + 0.5)}{turned}"  # rounded as the field beside it is


@step("wear", title="Wear", sentence="A texture takes the art away. White reveals, black conceals.",
      gives="cover", params=WearParams, summary=summary)
def wear(params: WearParams, view):
    if params.texture is None:
        return None
    mask, share = view.mask(params.texture, params.placement, params.black, params.gamma, params.white)
    mask = mask.inverted() if params.invert else mask
    return Cover(mask if share is None else mask.faded(share))  # beyond the texture's end nothing is taken
