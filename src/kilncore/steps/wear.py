"""Wear: a texture as a mask takes the art away. White reveals, black conceals.

How that comes about is told in `kilncore/wear`.
"""

from typing import Any

from kilncore.graph.protocols import View
from kilncore.model.texture import TexturePlacement
from kilncore.model.units import Length
from kilncore.pixels.colour import hex_to_rgb
from kilncore.pixels.mask import Mask
from kilncore.steps.base import Cover, Paint, step
from kilncore.textures.registers import premultiplied
from kilncore.wear.mask import Worn
from kilncore.wear.read import planes
from kilncore.wear.settings import COLOUR, WearSettings, states, summary


@step(
    "wear",
    title="Wear",
    sentence="A texture takes the art away. White reveals, black conceals.",
    group="Wear it",
    gives=lambda settings: ("paint",) if settings.undercoat else ("cover",),
    settings=WearSettings,
    summary=summary,
    planes=planes,
    on_ground=lambda settings: settings.rides == "ground",
    own_mode=lambda settings: settings.undercoat,
    states=states,
)
def wear(settings: WearSettings, view: View):
    """How much of the picture stays; or the undercoat, and its rim."""
    if settings.texture is None:
        return None
    worn = Worn(settings, view)
    shown = worn.shown(settings.placement)
    if settings.undercoat:
        return _undercoat(settings, view, worn, shown)
    return Cover(shown, toned=settings.deepens(view.strength))


def _undercoat(settings: WearSettings, view: View, worn: Worn, shown: Mask):
    """What shows where the art is worn, and the rim of what is left."""
    gone = 1 - shown.clamped().shown
    if settings.under == COLOUR:
        rows = tuple(gone * float(one) for one in hex_to_rgb(settings.under_colour))
        laid = Paint((*rows, gone), mode="normal")
    else:
        rows = premultiplied(*view.texture(settings.under_texture, settings.under_placement))
        rows = rows * 3 if len(rows) == 1 else rows
        alpha = (rows[3],) if len(rows) == 4 else (view.program.constant(1),)
        laid = Paint(tuple(row * gone for row in (*rows[:3], *alpha)), mode="normal")
    rim = _rim(settings, view, worn, shown)
    return laid if rim is None else (laid, rim)


def _rim(settings: WearSettings, view: View, worn: Worn, shown: Mask):
    """Paint that is left, as far as `rim_width` from where it broke off, darker or lighter."""
    width = view.frame.length(settings.rim_width) / view.frame.scale
    if not settings.rim or width <= 0:
        return None
    least = shown.clamped().shown
    for across, down in ((width, 0), (-width, 0), (0, width), (0, -width)):
        moved = worn.shown(_moved(settings.placement, view.frame, across, down))
        least = view.program.op("min", least, moved.clamped().shown)
    edge = (shown.clamped().shown - least) * abs(settings.rim)
    colour = edge if settings.rim > 0 else edge * 0
    return Paint((colour, colour, colour, edge), mode="normal")


def _moved(placement: TexturePlacement, frame: Any, across: float, down: float) -> TexturePlacement:
    x, y = (frame.length(one) / frame.scale for one in (placement.x, placement.y))
    # as far as it goes: a place in a document is held to bounds, one that is read is not
    x, y = (Length.model_construct(value=one, unit="px") for one in (x + across, y + down))
    return placement.model_copy(update={"x": x, "y": y})
