"""Wear: a texture as a mask takes the art away. White reveals, black conceals."""

import math

from pydantic import model_validator

from kilncore.graph.protocols import View
from kilncore.model.base import Model
from kilncore.model.texture import TexturePlacement
from kilncore.prep.texture_ref import TextureRef
from kilncore.steps.base import Cover, setting, step


class WearSettings(Model):
    """The mask and its levels. black, white : 0 to 1. gamma : above 0, 1 is straight."""

    texture: TextureRef | None = setting(
        None, "Texture", "Its dark parts take the art away.", "texture"
    )
    black: float = setting(
        0.3, "Hidden up to", "Tones up to here are taken away.", "levels", ge=0, le=1
    )
    gamma: float = setting(
        1.0, "Middle", "Above 1 keeps more, below 1 takes more.", "levels", ge=0.1, le=10
    )
    white: float = setting(
        0.6, "Shown from", "Tones from here on are left whole.", "levels", ge=0, le=1
    )
    invert: bool = setting(
        False, "Invert", "Swap what is taken and what is kept.", "toggle", reload=True
    )
    placement: TexturePlacement = setting(
        TexturePlacement(), "Texture on the piece", "Where the texture lies.", "placement"
    )

    @model_validator(mode="after")
    def _in_order(self):
        if self.black > self.white:
            raise ValueError("the black point must not lie above the white point")
        return self


def summary(settings: WearSettings) -> str:
    """In a few words."""
    if settings.texture is None:
        return "no texture yet"
    turned = ", inverted" if settings.invert else ""
    # rounded as the field beside it is
    return f"hidden to {math.floor(settings.black * 255 + 0.5)}{turned}"


@step(
    "wear",
    title="Wear",
    sentence="A texture takes the art away. White reveals, black conceals.",
    gives="cover",
    settings=WearSettings,
    summary=summary,
)
def wear(settings: WearSettings, view: View):
    """How much of the picture stays."""
    if settings.texture is None:
        return None
    mask, share = view.mask(
        settings.texture, settings.placement, settings.black, settings.gamma, settings.white
    )
    mask = mask.inverted() if settings.invert else mask
    return Cover(
        mask if share is None else mask.faded(share)
    )  # beyond the texture's end nothing is taken
