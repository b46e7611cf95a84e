"""Texture coat: a texture laid over the art, blended; in its own colours, or tinted.

Tinted, its luma (ITU-R BT.709) runs from one colour, where it is black, to another, where it is
white. Into lights and darks at once, it is multiplied into what is light and screened into what is
dark, as far as each channel is one or the other: a single blend mode shows in only one of them.
"""

from typing import Literal

from kilncore.compiled.program import Register
from kilncore.graph.protocols import View
from kilncore.landing import Landing
from kilncore.model.base import Model
from kilncore.model.texture import TexturePlacement
from kilncore.model.units import format_number
from kilncore.pixels.colour import LUMA, HexColour, hex_to_rgb
from kilncore.pixels.picture import Picture
from kilncore.prep.texture_ref import TextureRef
from kilncore.steps.base import Paint, setting, step
from kilncore.textures.registers import premultiplied

OWN, ONE, TWO = "own", "one", "two"
TINTS = ((OWN, "Its own"), (ONE, "One colour and white"), (TWO, "Two colours"))
WHITE = "#ffffff"
COLOURS, LIES = "Colours", "Texture's place"
MODE, BOTH = "mode", "both"
WAYS = ((MODE, "By one blend mode"), (BOTH, "Lights and darks"))


def _strength(title: str, text: str):
    return setting(
        1.0, title, text, "slider", unit="%", factor=100, soft=(0, 300), ge=0, le=3, step=1,
        if_="way=both",
    )  # fmt: skip


class CoatSettings(Model):
    """What is laid over, in which colours, and where."""

    texture: TextureRef | None = setting(None, "Texture", "What is laid over.", "texture")
    colours: Literal["own", "one", "two"] = setting(
        OWN, "Colours", "Its own, or tinted.", "choice", choices=TINTS, reload=True, group=COLOURS
    )
    darks: HexColour = setting(
        "#20262a",
        "Its darks",
        "What black becomes.",
        "colour",
        if_="colours=one,two",
        group=COLOURS,
    )
    lights: HexColour = setting(
        "#f1e6cc", "Its lights", "What white becomes.", "colour", if_="colours=two", group=COLOURS
    )
    inverted: bool = setting(
        False, "Inverted", "Its lights and its darks change places.", "toggle", group=COLOURS
    )
    way: Literal["mode", "both"] = setting(
        MODE, "Blends", "One mode shows in lights or in darks.", "choice", choices=WAYS, reload=True
    )
    in_lights: float = _strength("In the lights", "Multiplied into what is light.")
    in_darks: float = _strength("In the darks", "Screened into what is dark.")
    keep_to_art: bool = setting(
        True,
        "Keep to the art",
        "Off, it spills over onto all that lies around.",
        "toggle",
        group=LIES,
    )
    placement: TexturePlacement = setting(
        TexturePlacement(),
        "Texture on the piece",
        "Where the texture lies.",
        "placement",
        group=LIES,
    )


def summary(settings: CoatSettings) -> str:
    """In a few words."""
    if settings.texture is None:
        return "no texture yet"
    where = "on the art" if settings.keep_to_art else "spilling over"
    where = f"lights and darks, {where}" if settings.way == BOTH else where
    return where if settings.colours == OWN else f"tinted, {where}"


def states(settings: CoatSettings) -> dict[str, str]:
    """What the closed lines of its sheet say."""
    where = "on the art" if settings.keep_to_art else "spilling over"
    colours = dict(TINTS)[settings.colours].lower() + (", inverted" if settings.inverted else "")
    return {COLOURS: colours, LIES: f"{where}, {format_number(100 * settings.placement.scale)} %"}


def tinted(registers: tuple[Register, ...], darks: str, lights: str) -> tuple[Register, ...]:
    """A picture as `premultiplied` gives it, in two colours: (dark + (light - dark) luma) alpha."""
    colour, alpha = (registers[:-1], registers[-1]) if len(registers) == 4 else (registers, None)
    luma = colour[0]
    if len(colour) == 3:
        luma = luma.program.op("weighted", *colour, numbers=LUMA)
    dark, light = (hex_to_rgb(one).tolist() for one in (darks, lights))
    there = luma.program.constant(1) if alpha is None else alpha
    rows = tuple(there * low + luma * (high - low) for low, high in zip(dark, light, strict=True))
    return rows if alpha is None else (*rows, alpha)


def inverted(registers: tuple[Register, ...]) -> tuple[Register, ...]:
    """A picture as `premultiplied` gives it with its lights and darks changed: alpha - colour."""
    colour, alpha = (registers[:-1], registers[-1]) if len(registers) == 4 else (registers, None)
    there = colour[0].program.constant(1) if alpha is None else alpha
    rows = tuple(there - one for one in colour)
    return rows if alpha is None else (*rows, alpha)


def _ends(settings: CoatSettings) -> tuple[str, str]:
    """What black and white become."""
    return settings.darks, settings.lights if settings.colours == TWO else WHITE


def _contrast(settings: CoatSettings) -> float:
    """How far apart in luma black and white are when tinted."""
    dark, light = (float(hex_to_rgb(one) @ LUMA) for one in _ends(settings))
    return light - dark


@step(
    "coat",
    title="Texture coat",
    sentence="A texture is laid over the art, blended.",
    group="Lay over",
    gives="paint",
    settings=CoatSettings,
    summary=summary,
    spills=lambda settings: not settings.keep_to_art,
    own_mode=lambda settings: settings.way == BOTH,
    states=states,
    landing=Landing(mode="multiply", strength=0.8),
)
def coat(settings: CoatSettings, view: View):
    """The texture, to be laid over."""
    if settings.texture is None:
        return None
    laid = premultiplied(*view.texture(settings.texture, settings.placement))
    variance = view.texture_variance(settings.texture, settings.placement) if view.varies else None
    if settings.inverted:
        laid = inverted(laid)
    if settings.colours != OWN:
        laid = tinted(laid, *_ends(settings))
        variance = None if variance is None else variance * _contrast(settings) ** 2
    if settings.way == BOTH:
        both = into_both(laid, view.picture(), settings.in_lights, settings.in_darks)
        return None if both is None else Paint(both, settings.keep_to_art, mode="normal")
    return Paint(laid, settings.keep_to_art, variance)


def into_both(
    laid: tuple[Register, ...], picture: Picture | None, in_lights: float, in_darks: float
) -> tuple[Register, ...] | None:
    """What a coat makes of a picture, premultiplied: of its channels b and the coat's s, b - l b b
    (1 - s) + d (1 - b) (1 - b) s, cut to 0..1; the coat itself where there is no art.
    """
    if picture is None:
        return laid
    straight = picture.unpremultiply()
    coat = laid if len(laid) in (3, 4) else laid * 3
    covered = coat[3] if len(coat) == 4 else picture.program.constant(1)
    alpha = straight.alpha
    rows = []
    for base, colour in zip(straight.colour, coat[:3], strict=True):
        # the coat is premultiplied: s a in the place of s, a in the place of 1
        dark, light = 1 - base, base
        made = base * covered - light * light * (covered - colour) * in_lights
        made = made + dark * dark * colour * in_darks
        made = picture.program.op("min", made.clamped(), covered)
        rows.append(made if alpha is None else made * alpha + colour * (1 - alpha))
    return (*rows, covered)
