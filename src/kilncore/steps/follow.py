"""Follow surface: the light and dark beneath shift the art's pixels, across and down.

Source: the displacement formula of W3C Filter Effects Level 1 (feDisplacementMap), with the
surface's own mean tone in the place of 0.5, so that a dark surface bends the mark without carrying
it away as a whole.
"""

import math

from kilncore.blur import blur_within
from kilncore.blur import reach as blur_reach
from kilncore.graph.protocols import View
from kilncore.model.base import Model
from kilncore.model.units import Length, px
from kilncore.planes.debanding import debanded, debanding_reach
from kilncore.planes.mean import MeanLuma
from kilncore.steps.base import Move, setting, step


class FollowSettings(Model):
    """How far, and how smooth the surface is made first."""

    across: Length = setting(
        px(8), "Across", "How far the surface moves the art sideways.", "length", soft=(-60, 60)
    )
    down: Length = setting(
        px(8), "Down", "How far the surface moves the art up and down.", "length", soft=(-60, 60)
    )
    smooth: Length = setting(
        px(2),
        "Smooth the surface",
        "Smoothing first keeps edges from tearing.",
        "length",
        soft=(0, 20),
    )


def summary(settings: FollowSettings) -> str:
    """In a few words."""
    return f"{settings.across} across, {settings.down} down"


def _sigma(settings, frame) -> float:
    return min(max(frame.length(settings.smooth), 0), 60)


def _shift(settings, frame) -> int:
    most = max(abs(frame.length(settings.across)), abs(frame.length(settings.down)))
    return math.ceil(min(most, 2000))


def _planes(settings, sources) -> dict:
    """The mean tone of what lies beneath the whole item."""
    measured = sources.measured()
    return {"mean": MeanLuma(measured.beneath, measured.whole)}


def _reach(settings, frame) -> int:
    return debanding_reach(frame.scale) + blur_reach(_sigma(settings, frame))


@step(
    "follow",
    title="Follow surface",
    sentence="The surface's light and dark bend the art. Too much looks torn.",
    gives="move",
    settings=FollowSettings,
    summary=summary,
    reads_beneath=True,
    offered_for=("mark", "piece"),
    reach=_reach,
    shift=_shift,
    planes=_planes,
)
def follow(settings: FollowSettings, view: View):
    """A shift by the relief beneath, counted from its mean over the whole item."""
    relief, *bounds = _kept_relief(settings, view)
    most = _shift(settings, view.frame)
    times = tuple(
        min(max(view.frame.length(n), -most), most) for n in (settings.across, settings.down)
    )
    return Move(relief, relief, times, view.value("mean"), tuple(bounds))


def _kept_relief(settings, view):
    key = ("relief", view.beneath_key, _sigma(settings, view.frame), view.frame.scale)
    return view.source(key, lambda: _relief(settings, view))


def _relief(settings, view):
    """The luma beneath, freed of the steps of 8-bit sources and smoothed; its least and its largest
    value.
    """
    sigma, margin = _sigma(settings, view.frame), _reach(settings, view.frame)
    left, top = view.box.left - margin, view.box.top - margin
    tones, left, top = debanded(view.beneath_luma(margin)[None], view.frame.scale, left, top)
    relief = blur_within(tones, sigma, sigma, left, top)[0]
    return relief, float(relief.min()), float(relief.max())
