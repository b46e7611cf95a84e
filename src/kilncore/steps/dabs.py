"""Dabs: strokes of the hand that add a colour, a texture, or more dark or light of what is there.

Darker is the picture multiplied by itself, lighter is it screened with itself (W3C Compositing and
Blending Level 1): colours stay what they are, and the landing's strength says how often.
"""

from typing import Annotated, Literal

from pydantic import Field

from kilncore.compiled.program import Register
from kilncore.graph.protocols import View
from kilncore.graph.sources import Sources
from kilncore.model.base import Model
from kilncore.model.files import StrokesHash
from kilncore.model.setting import setting
from kilncore.model.texture import TexturePlacement
from kilncore.pixels.colour import HexColour, hex_to_rgb
from kilncore.planes.strokes import StrokesPlane
from kilncore.prep.texture_ref import TextureRef
from kilncore.steps.base import Paint, step
from kilncore.strokes import MOST_FILES
from kilncore.textures.registers import premultiplied

COLOUR, TEXTURE, DARKER, LIGHTER = "colour", "texture", "darker", "lighter"
WAYS = ((COLOUR, "A colour"), (TEXTURE, "A texture"), (DARKER, "Darker"), (LIGHTER, "Lighter"))
MODES = {DARKER: "multiply", LIGHTER: "screen"}


class DabsSettings(Model):
    """What is added, where, and the strokes that add it."""

    adds: Literal["colour", "texture", "darker", "lighter"] = setting(
        COLOUR, "Adds", "What the hand lays on.", "choice", choices=WAYS, reload=True
    )
    colour: HexColour = setting(
        "#8d8a83", "Colour", "Of what is laid on.", "colour", if_="adds=colour"
    )
    texture: TextureRef | None = setting(
        None, "Texture", "What is laid on.", "texture", if_="adds=texture"
    )
    placement: TexturePlacement = setting(
        TexturePlacement(),
        "Texture on the piece",
        "Where the texture lies.",
        "placement",
        if_="adds=texture",
    )
    keep_to_art: bool = setting(
        True, "Keep to the art", "Off, it spills over onto all that lies around.", "toggle"
    )
    strokes: Annotated[tuple[StrokesHash, ...], Field(max_length=MOST_FILES)] = setting(
        (), "Strokes", "Drawn on the piece by hand.", "strokes"
    )


def summary(settings: DabsSettings) -> str:
    """In a few words."""
    if not settings.strokes:
        return "nothing drawn yet"
    where = "on the art" if settings.keep_to_art else "spilling over"
    return f"{dict(WAYS)[settings.adds].lower()}, {where}"


def _planes(settings: DabsSettings, sources: Sources) -> dict:
    if not settings.strokes:
        return {}
    frame = sources.frame
    return {"strokes": StrokesPlane(settings.strokes, frame.own(), frame.laid, empty=True)}


@step(
    "dabs",
    title="Dabs",
    sentence="Strokes by hand lay on a colour or a texture, or darken and lighten.",
    group="Lay over",
    gives="paint",
    settings=DabsSettings,
    summary=summary,
    spills=lambda settings: not settings.keep_to_art,
    own_mode=lambda settings: settings.adds in MODES,
    planes=_planes,
)
def dabs(settings: DabsSettings, view: View):
    """What is added, as much as the strokes cover."""
    if not settings.strokes:
        return None
    laid = _laid(settings, view)
    if laid is None:
        return None
    there = view.plane("strokes")
    colour, alpha = (laid[:3], laid[3]) if len(laid) == 4 else (laid, None)
    colour = tuple(one * there for one in (colour * 3 if len(colour) == 1 else colour))
    rows = (*colour, there if alpha is None else alpha * there)
    return Paint(rows, settings.keep_to_art, mode=MODES.get(settings.adds))


def _laid(settings: DabsSettings, view: View) -> tuple[Register, ...] | None:
    """Premultiplied."""
    if settings.adds == TEXTURE:
        if settings.texture is None:
            return None
        return premultiplied(*view.texture(settings.texture, settings.placement))
    if settings.adds == COLOUR:
        constant = view.program.constant
        return tuple(constant(one) for one in hex_to_rgb(settings.colour).tolist())
    picture = view.picture()
    return None if picture is None else picture.unpremultiply().colour
