"""What a Follow surface is set to."""

from typing import Literal

from kilncore.model.base import Model
from kilncore.model.texture import TexturePlacement
from kilncore.model.units import Length, format_number, px
from kilncore.prep.texture_ref import TextureRef
from kilncore.steps.base import setting

TONE, SLOPE = "tone", "slope"
WAYS = ((TONE, "By tone"), (SLOPE, "By slope"))
BENEATH, GROUND, TEXTURE = "beneath", "ground", "texture"
MAPS = ((BENEATH, "All that lies beneath"), (GROUND, "The ground alone"), (TEXTURE, "A texture"))
SPLIT = "split"
CHANNELS = (
    ("luminance", "Luminance"),
    ("red", "Red"),
    ("green", "Green"),
    ("blue", "Blue"),
    (SPLIT, "Red across, green down"),
)
MIDDLES = (("mean", "Its mean tone"), ("half", "Middle grey"))
FITS = (("placed", "As it is placed"), ("stretched", "Stretched to the mark"))
BEYOND = (("empty", "Nothing"), ("repeat", "Its border again"), ("mirror", "Its mirror image"))
MAP, EDGES = "The map", "Beyond the art"


class FollowSettings(Model):
    """What bends the art, how, and how far. way : 'tone', the tone less its mean, or less one half,
    times the amount (W3C feDisplacementMap); 'slope', px for a rise from black to white within 10
    px."""

    way: Literal["tone", "slope"] = setting(
        TONE, "Bends", "What moves the art.", "ways", choices=WAYS, reload=True
    )
    map: Literal["beneath", "ground", "texture"] = setting(
        BENEATH, "Map", "What the art follows.", "choice", choices=MAPS, reload=True
    )
    texture: TextureRef | None = setting(
        None, "Texture", "Its light and dark are followed.", "texture", if_="map=texture"
    )
    across: Length = setting(
        px(8), "Across", "How far the surface moves the art sideways.", "length", soft=(-60, 60)
    )
    down: Length = setting(
        px(8),
        "Down",
        "How far the surface moves the art up and down.",
        "length",
        soft=(-60, 60),
        if_="!linked",
    )
    linked: bool = setting(
        False, "Down as much as across", "One amount for both.", "toggle", reload=True
    )
    smooth: Length = setting(
        px(2),
        "Smooth the surface",
        "Smoothing first keeps edges from tearing.",
        "length",
        soft=(0, 20),
    )
    channel: Literal["luminance", "red", "green", "blue", "split"] = setting(
        "luminance", "Reads", "What is read of its colours.", "choice", choices=CHANNELS, group=MAP
    )
    contrast: float = setting(
        1.0, "Contrast", "More makes what is light and dark stand out.", "slider", unit="%",
        factor=100, soft=(0, 300), ge=0, le=5, step=1, group=MAP,
    )  # fmt: skip
    invert: bool = setting(False, "Inverted", "Dark is high.", "toggle", group=MAP)
    middle: Literal["mean", "half"] = setting(
        "mean",
        "Counted from",
        "The tone that moves nothing.",
        "choice",
        choices=MIDDLES,
        if_="way=tone",
        group=MAP,
    )
    fit: Literal["placed", "stretched"] = setting(
        "placed",
        "Lies",
        "Where the texture lies.",
        "choice",
        choices=FITS,
        if_="map=texture",
        reload=True,
        group=MAP,
    )
    placement: TexturePlacement = setting(
        TexturePlacement(),
        "Texture on the piece",
        "Where the texture lies.",
        "placement",
        if_="map=texture",
        group=MAP,
    )
    beyond: Literal["empty", "repeat", "mirror"] = setting(
        "empty",
        "Drawn in from beyond",
        "What comes in from beyond the art.",
        "choice",
        choices=BEYOND,
        group=EDGES,
    )


def summary(settings: FollowSettings) -> str:
    """In a few words."""
    if settings.linked:
        return f"{settings.across} both ways"
    return f"{settings.across} across, {settings.down} down"


def states(settings: FollowSettings) -> dict[str, str]:
    """What the closed lines of its sheet say."""
    read = dict(CHANNELS)[settings.channel].lower()
    contrast = "" if settings.contrast == 1 else f", {format_number(100 * settings.contrast)} %"
    inverted = ", inverted" if settings.invert else ""
    beyond = dict(BEYOND)[settings.beyond].lower()
    return {MAP: f"{read}{contrast}{inverted}", EDGES: beyond}
