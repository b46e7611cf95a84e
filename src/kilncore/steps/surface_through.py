"""Surface through: the surface's own shadows, or lights, over the mark again, so that it lies in
the cracks and not on them.

What is laid is what lies beneath the mark, with a contrast and a saturation of its own. Which of
its tones come through is its landing's blend range of the tones beneath.
"""

from kilncore.graph.protocols import View
from kilncore.landing import BlendRange, Landing
from kilncore.model.base import Model
from kilncore.pixels.picture import Picture
from kilncore.steps.base import Paint, setting, step
from kilncore.steps.tones import matrix

SHADOWS = BlendRange(id="shadows", of="beneath", shown_to=0.28, hidden_above=0.48)


class SurfaceThroughSettings(Model):
    """contrast : about middle grey, 1 as it is. saturation : 0 grey, 1 as it is. lightness : added
    to the tones, -1..1."""

    contrast: float = setting(
        1.2, "Contrast", "Of the surface as it comes through.", "slider", unit="%", factor=100,
        soft=(0, 300), ge=0, le=5, step=1,
    )  # fmt: skip
    saturation: float = setting(
        1.0, "Saturation", "0 is grey.", "slider", unit="%", factor=100, soft=(0, 200), ge=0, le=4,
        step=1,
    )  # fmt: skip
    lightness: float = setting(
        0.0, "Lightness", "Darker or lighter than the surface is.", "slider", unit="%", factor=100,
        soft=(-50, 50), ge=-1, le=1, step=1,
    )  # fmt: skip


def summary(settings: SurfaceThroughSettings) -> str:
    """In a few words."""
    return f"contrast {100 * settings.contrast:.0f} %"


@step(
    "surface_through",
    title="Surface through",
    sentence="The surface's own shadows over the mark: it lies in the cracks.",
    gives="paint",
    settings=SurfaceThroughSettings,
    summary=summary,
    reads_beneath=True,
    offered_for=("mark",),
    landing=Landing(mode="normal", strength=0.9, ranges=(SHADOWS,)),
)
def surface_through(settings: SurfaceThroughSettings, view: View):
    """What lies beneath, kept to the art."""
    beneath = view.beneath()
    if beneath is None:
        return None
    straight, program = beneath.unpremultiply(), view.program
    middle = 0.5 * (1 - settings.contrast) + settings.lightness
    found = [(row * settings.contrast + middle).clamped() for row in straight.colour]
    if settings.saturation != 1:
        rows = matrix(settings.saturation, 0)
        found = [
            program.op("weighted", *found, numbers=tuple(map(float, row))).clamped() for row in rows
        ]
    return Paint(Picture(program, tuple(found), straight.alpha))
