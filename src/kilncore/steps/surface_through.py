"""Surface through: the surface's own shadows, or lights, over the mark again, so that it lies in
the cracks and not on them.

What is laid is what lies beneath the mark, with a contrast and a saturation of its own. Its shadows
are the darkest share of its tones under the mark, told at full size, with a soft shoulder: a wall
and a board are read alike. The landing's own blend ranges hold it further.
"""

from typing import Any, Literal

from kilncore.compiled.program import Register
from kilncore.graph.protocols import View
from kilncore.landing import Landing
from kilncore.model.base import Model
from kilncore.pixels.picture import Picture
from kilncore.planes.surface_facts import Surface, surface_under
from kilncore.steps.base import Paint, setting, step
from kilncore.steps.tones import matrix

ALL, SHADOWS, LIGHTS = "all", "shadows", "lights"
SHOWS = ((SHADOWS, "Its shadows"), (LIGHTS, "Its lights"), (ALL, "All of it"))
LEAST_SHOULDER = 1 / 255


class SurfaceThroughSettings(Model):
    """shows : which of its tones. share : of the surface under the mark, 0..1. soft : tones from
    none to all of it. contrast : about middle grey, 1 as it is. saturation : 0 grey, 1 as it is.
    lightness : added to the tones, -1..1."""

    shows: Literal["all", "shadows", "lights"] = setting(
        SHADOWS, "Comes through", "Which of the surface's tones.", "choice", choices=SHOWS,
        reload=True,
    )  # fmt: skip
    share: float = setting(
        0.2, "How much of it", "The darkest or lightest share of the surface.", "slider", unit="%",
        factor=100, soft=(0, 100), ge=0, le=1, step=1, if_="shows=shadows,lights",
    )  # fmt: skip
    soft: float = setting(
        0.12, "Shoulder", "From none to all of it, in tones.", "slider", factor=255, soft=(0, 128),
        ge=0, le=1, step=1, if_="shows=shadows,lights",
    )  # fmt: skip
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
    shown = dict(SHOWS)[settings.shows].lower()
    return shown if settings.shows == ALL else f"{shown}, {100 * settings.share:.0f} %"


def _planes(settings: SurfaceThroughSettings, sources: Any) -> dict:
    """What the surface's tones are; in a draft also how they vary within a pixel."""
    if settings.shows == ALL:
        return {}
    named = {"surface": surface_under(sources)}
    if sources.frame.scale < 1:
        named["variance"] = sources.variance(sources.beneath)
    return named


def points_of(settings: SurfaceThroughSettings, surface: Surface) -> tuple[float, ...]:
    """The four points of the trapezoid over the tones beneath."""
    half = max(settings.soft, LEAST_SHOULDER) / 2
    if settings.shows == SHADOWS:
        tone = surface.tone_of(settings.share)
        return -1.0, -1.0, tone - half, tone + half
    tone = surface.tone_of(1 - settings.share)
    return tone - half, tone + half, 2.0, 2.0


@step(
    "surface_through",
    title="Surface through",
    sentence="The surface's own shadows over the mark: it lies in the cracks.",
    group="In the surface",
    gives="paint",
    settings=SurfaceThroughSettings,
    summary=summary,
    reads_beneath=True,
    planes=_planes,
    offered_for=("mark",),
    landing=Landing(mode="normal", strength=0.9),
)
def surface_through(settings: SurfaceThroughSettings, view: View):
    """What lies beneath, kept to the art."""
    beneath = view.beneath()
    if beneath is None:
        return None
    straight, program = beneath.unpremultiply(), view.program
    alpha = _shown(settings, view, beneath)
    if straight.alpha is not None:
        alpha = straight.alpha if alpha is None else alpha * straight.alpha
    middle = 0.5 * (1 - settings.contrast) + settings.lightness
    channels = [(row * settings.contrast + middle).clamped() for row in straight.colour]
    if settings.saturation != 1:
        rows = matrix(settings.saturation, 0)
        channels = [
            program.op("weighted", *channels, numbers=tuple(map(float, row))).clamped()
            for row in rows
        ]
    return Paint(Picture(program, tuple(channels), alpha))


def _shown(settings: SurfaceThroughSettings, view: Any, beneath: Picture) -> Register | None:
    """How much of it comes through; None for all of it."""
    if settings.shows == ALL:
        return None
    surface = view.value("surface")
    if surface is None:
        return view.program.constant(0)
    tones, points = beneath.tones(), points_of(settings, surface)
    if "variance" not in view.plane_names:
        return view.program.op("trapezoid", tones, numbers=points)
    variance = beneath.where_there(view.plane("variance"))
    return view.program.op("trapezoid_mean", tones, variance, numbers=points)
