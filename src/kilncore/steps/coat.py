"""Texture coat: a texture laid over the art, blended; in its own colours, or tinted.

Tinted, its luma (ITU-R BT.709) runs from one colour, where it is black, to another, where it is
white.
"""

from typing import Literal

from kilncore.compiled.program import Register
from kilncore.graph.protocols import View
from kilncore.landing import Landing
from kilncore.model.base import Model
from kilncore.model.texture import TexturePlacement
from kilncore.pixels.colour import LUMA, HexColour, hex_to_rgb
from kilncore.prep.texture_ref import TextureRef
from kilncore.steps.base import Paint, setting, step
from kilncore.textures.registers import premultiplied

OWN, ONE, TWO = "own", "one", "two"
TINTS = ((OWN, "Its own"), (ONE, "One colour and white"), (TWO, "Two colours"))
WHITE = "#ffffff"


class CoatSettings(Model):
    """What is laid over, in which colours, and where."""

    texture: TextureRef | None = setting(None, "Texture", "What is laid over.", "texture")
    colours: Literal["own", "one", "two"] = setting(
        OWN, "Colours", "Its own, or tinted.", "choice", choices=TINTS, reload=True
    )
    darks: HexColour = setting(
        "#20262a", "Its darks", "What black becomes.", "colour", if_="colours=one,two"
    )
    lights: HexColour = setting(
        "#f1e6cc", "Its lights", "What white becomes.", "colour", if_="colours=two"
    )
    keep_to_art: bool = setting(
        True, "Keep to the art", "Off, it spills over onto all that lies around.", "toggle"
    )
    placement: TexturePlacement = setting(
        TexturePlacement(), "Texture on the piece", "Where the texture lies.", "placement"
    )


def summary(settings: CoatSettings) -> str:
    """In a few words."""
    if settings.texture is None:
        return "no texture yet"
    where = "on the art" if settings.keep_to_art else "spilling over"
    return where if settings.colours == OWN else f"tinted, {where}"


def tinted(registers: tuple[Register, ...], darks: str, lights: str) -> tuple[Register, ...]:
    """A picture as `premultiplied` gives it, in two colours: (dark + (light - dark) luma) alpha."""
    colour, alpha = (registers[:-1], registers[-1]) if len(registers) == 4 else (registers, None)
    luma = colour[0]
    if len(colour) == 3:
        luma = luma.program.op("weighted", *colour, numbers=LUMA)
    dark, light = (hex_to_rgb(one).tolist() for one in (darks, lights))
    there = luma.program.constant(1) if alpha is None else alpha
    found = tuple(there * low + luma * (high - low) for low, high in zip(dark, light, strict=True))
    return found if alpha is None else (*found, alpha)


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
    gives="paint",
    settings=CoatSettings,
    summary=summary,
    spills=lambda settings: not settings.keep_to_art,
    landing=Landing(mode="multiply", strength=0.8),
)
def coat(settings: CoatSettings, view: View):
    """The texture, to be laid over."""
    if settings.texture is None:
        return None
    laid = premultiplied(*view.texture(settings.texture, settings.placement))
    variance = view.texture_variance(settings.texture, settings.placement) if view.varies else None
    if settings.colours != OWN:
        laid = tinted(laid, *_ends(settings))
        variance = None if variance is None else variance * _contrast(settings) ** 2
    return Paint(laid, settings.keep_to_art, variance)
