"""What a wear is told: its texture and points, what it spares, what shows where it is worn."""

import math
from typing import Literal

from pydantic import Field, model_validator

from kilncore.model.base import Model
from kilncore.model.region import Region
from kilncore.model.setting import percent, setting, tone
from kilncore.model.texture import TexturePlacement
from kilncore.model.units import Length, format_number, px
from kilncore.pixels.colour import HexColour
from kilncore.pixels.colour_words import colour_words
from kilncore.prep.cut_tones import cut, parted_within
from kilncore.prep.texture_ref import TextureRef

POINTS, READABLE = "Black and white", "Kept readable"
UNDER, LIES = "Undercoat", "Texture's place"
NOTHING, COLOUR, TEXTURE = "nothing", "colour", "texture"
UNDERCOATS = (
    (NOTHING, "What lies beneath"),
    (COLOUR, "A second colour"),
    (TEXTURE, "A second texture"),
)
THINNER, DEEP = "thinner", "deep"
WEAKER = ((DEEP, "Less deep"), (THINNER, "Thinner"))
TONED = "Toned down"
RIDES = (("mark", "moves with the mark"), ("ground", "stays with the ground"))


class Points(Model):
    """The points that an aim solved to before words or art were changed."""

    black: float = Field(ge=-4, le=4)
    white: float = Field(ge=-4, le=4)


class WearSettings(Model):
    """The mask and its levels. aim : whether the points are solved so that `share` of the mark is
    taken away, `contrast` apart. black, white : 0 to 1, where there is no aim. gamma : above 0, 1
    is straight. bias : -1 heavier in the middle, 1 heavier at edges. specks : -1 finest, 0 as they
    are, 1 largest.

    weaker : what a landing's strength below 1 makes of it.

    least_stroke : what is kept of the middle of every stroke. least_part : the share that every
    letter or shape keeps. thin, region_share : how much of thin strokes, and within the region, is
    spared. held : the points that stay while words or art change.
    """

    texture: TextureRef | None = setting(
        None, "Texture", "Its dark parts take the art away.", "texture"
    )
    aim: bool = setting(
        False, "Aim: take away a share", "The points are solved for it.", "toggle", reload=True
    )
    share: float = percent(
        0.15, "Take away", "How much of the mark goes.",
        soft=(0, 80), step=0.5, unit="% of the mark", if_="aim",
    )  # fmt: skip
    contrast: float = tone(
        0.25, "Softness", "From hidden to shown, in tones.",
        0.002, soft=(1, 160), step=1, if_="aim", group=POINTS,
    )  # fmt: skip
    black: float = setting(
        0.3, "Hidden up to", "Tones up to here are taken away.", "levels", ge=0, le=1, group=POINTS
    )
    gamma: float = setting(
        1.0,
        "Middle",
        "Above 1 keeps more, below 1 takes more.",
        "levels",
        ge=0.1,
        le=10,
        group=POINTS,
    )
    white: float = setting(
        0.6, "Shown from", "Tones from here on are left whole.", "levels", ge=0, le=1, group=POINTS
    )
    weaker: Literal["thinner", "deep"] = setting(
        THINNER, "Below 100 %", "Thinner everywhere, or holes that are open where the texture is "
        "darkest and thin towards their rims.", "choice", choices=WEAKER, reload=True, group=TONED,
    )  # fmt: skip
    invert: bool = setting(
        False, "Invert", "Swap what is taken and what is kept.", "toggle", reload=True, group=POINTS
    )
    bias: float = percent(
        0.0,
        "Where it wears",
        "By how deep it lies.",
        -1,
        ends=("in the middle", "evenly", "at the edges"),
    )
    specks: float = percent(
        0.0,
        "Size of what is taken",
        "By softening.",
        -1,
        ends=("fine specks", "as it is", "big flakes"),
    )
    least_stroke: Length = setting(
        px(0), "Stroke kept", "Of the middle of every stroke.", "number_length", group=READABLE
    )
    least_part: float = percent(
        0.0, "Letter keeps", "The least that is left of any letter or shape.", 0, group=READABLE
    )
    thin: float = percent(
        0.0, "Spare thin strokes", "How far thinner strokes are let off.", 0, group=READABLE
    )
    region: Region | None = setting(
        None, "A region", "Drawn on the piece.", "region", group=READABLE
    )
    region_share: float = percent(
        1.0, "Spared in it", "How far the wear is let off there.", 0, group=READABLE, if_="region"
    )
    under: Literal["nothing", "colour", "texture"] = setting(
        NOTHING, "Shows", "What shows where it is worn.", "choice", choices=UNDERCOATS,
        reload=True, group=UNDER,
    )  # fmt: skip
    under_colour: HexColour = setting(
        "#8a4b2c", "Undercoat", "Its colour.", "colour", if_="under=colour", group=UNDER
    )
    under_texture: TextureRef | None = setting(
        None, "Undercoat", "Its texture.", "texture", if_="under=texture", group=UNDER
    )
    under_placement: TexturePlacement = setting(
        TexturePlacement(),
        "In its frame",
        "Where it lies.",
        "placement",
        if_="under=texture",
        group=UNDER,
    )
    rim: float = percent(
        -0.5, "Rim", "Below 0 darker, above 0 lighter, where paint broke off.", -1,
        if_="under=colour,texture", group=UNDER,
    )  # fmt: skip
    rim_width: Length = setting(
        Length(value=0.25, unit="mm"), "Rim's width", "Of what is left.", "number_length",
        if_="under=colour,texture", group=UNDER,
    )  # fmt: skip
    placement: TexturePlacement = setting(
        TexturePlacement(), "In its frame", "Where the texture lies.", "placement", group=LIES
    )
    rides: Literal["mark", "ground"] = setting(
        "mark", "The texture", "When the mark is moved.", "choice", choices=RIDES, group=LIES
    )
    hides: bool = setting(
        False,
        "Take away beyond its end",
        "Of a texture that does not repeat.",
        "toggle",
        group=LIES,
    )
    held: Points | None = None

    @model_validator(mode="after")
    def _in_order(self):
        if self.black > self.white:
            raise ValueError("the black point must not lie above the white point")
        return self

    @property
    def mask_texture(self) -> TextureRef | None:
        """The texture as it is read: an aim cuts the tones from before it was made two-tone."""
        return cut(self.texture) if self.aim and self.texture else self.texture

    def deepens(self, strength: float) -> bool:
        """Whether, at that strength of its landing, what it takes is less deep, and not thinner."""
        return self.weaker == DEEP and strength < 1 and not self.undercoat

    @property
    def soft(self) -> float:
        """From hidden to shown, in tones that an aim cuts: no softer than they were parted."""
        parted = parted_within(self.texture) if self.texture else 1.0
        return max(min(self.contrast, parted), 0.002)

    @property
    def undercoat(self) -> bool:
        """Whether something of its own shows where it is worn."""
        return self.under == COLOUR or self.under == TEXTURE and self.under_texture is not None


def summary(settings: WearSettings) -> str:
    """In a few words."""
    if settings.texture is None:
        return "no texture yet"
    turned = ", inverted" if settings.invert else ""
    if settings.aim:
        return f"takes away {format_number(100 * settings.share)} %{turned}"
    return f"hidden to {_tone(settings.black)}{turned}"


def states(settings: WearSettings) -> dict[str, str]:
    """What the closed lines of its sheet say."""
    kept = [
        words
        for words, there in (
            (f"{settings.least_stroke}", settings.least_stroke.value > 0),
            (f"letters {100 * settings.least_part:.0f} %", settings.least_part),
            ("thin strokes", settings.thin),
            ("a region", settings.region and settings.region_share),
        )
        if there
    ]
    under = {
        COLOUR: colour_words(settings.under_colour),
        TEXTURE: "a texture",
        NOTHING: "what lies beneath",
    }
    lies = "with the mark" if settings.rides == "mark" else "with the ground"
    points = "solved" if settings.aim else f"{_tone(settings.black)} to {_tone(settings.white)}"
    points += ", inverted" if settings.invert else ""
    return {
        POINTS: points,
        READABLE: ", ".join(kept) or "nothing spared",
        UNDER: under[settings.under],
        LIES: f"{lies}, {format_number(100 * settings.placement.scale)} %",
    }


def _tone(value: float) -> int:
    """0 to 255, rounded as the field beside it is."""
    return math.floor(value * 255 + 0.5)
