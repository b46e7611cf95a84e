"""Wear: a texture as a mask takes the art away. White reveals, black conceals."""

import math

from pydantic import model_validator

from kilncore.graph.protocols import View
from kilncore.model.base import Model
from kilncore.model.texture import TexturePlacement
from kilncore.model.units import format_number
from kilncore.planes.wear_tones import Tones, WearTones
from kilncore.prep.texture_ref import TextureRef
from kilncore.steps.base import Cover, setting, step


class WearSettings(Model):
    """The mask and its levels. aim : whether the points are solved so that `share` of the mark is
    taken away, `contrast` apart. black, white : 0 to 1, where there is no aim. gamma : above 0, 1
    is straight.
    """

    texture: TextureRef | None = setting(
        None, "Texture", "Its dark parts take the art away.", "texture"
    )
    aim: bool = setting(
        False, "Aim: take away a share", "The points are solved for it.", "toggle", reload=True
    )
    share: float = setting(
        0.15,
        "Take away",
        "How much of the mark goes.",
        "slider",
        unit="% of the mark",
        factor=100,
        soft=(0, 80),
        ge=0,
        le=1,
        step=0.5,
        if_="aim",
    )
    contrast: float = setting(
        0.25,
        "Softness",
        "From hidden to shown, in tones.",
        "slider",
        factor=255,
        soft=(1, 160),
        ge=0.002,
        le=1,
        step=1,
        if_="aim",
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
    if settings.aim:
        return f"takes away {format_number(100 * settings.share)} %{turned}"
    # rounded as the field beside it is
    return f"hidden to {math.floor(settings.black * 255 + 0.5)}{turned}"


def _planes(settings: WearSettings, sources) -> dict:
    """How much of the mark lies under each tone, where an aim is to be solved."""
    if not settings.aim or settings.texture is None:
        return {}
    full = sources.full_size()
    told = (full.frame, settings.texture, settings.placement, settings.invert)
    return {"tones": WearTones(full.input, full.whole, *told, sources.frame.scale < 1)}


def points_of(settings: WearSettings, tones: Tones) -> tuple[float, float]:
    """(black, white) of the texture's own tones that an aim solves to."""
    black, white = tones.points(settings.share, settings.contrast)
    return (1 - white, 1 - black) if settings.invert else (black, white)


@step(
    "wear",
    title="Wear",
    sentence="A texture takes the art away. White reveals, black conceals.",
    gives="cover",
    settings=WearSettings,
    summary=summary,
    planes=_planes,
)
def wear(settings: WearSettings, view: View):
    """How much of the picture stays."""
    if settings.texture is None:
        return None
    points, gamma = (settings.black, settings.white), settings.gamma
    if settings.aim:
        points, gamma = points_of(settings, view.value("tones")), 1.0
    mask, share = view.mask(settings.texture, settings.placement, points[0], gamma, points[1])
    mask = mask.inverted() if settings.invert else mask
    return Cover(
        mask if share is None else mask.faded(share)
    )  # beyond the texture's end nothing is taken
