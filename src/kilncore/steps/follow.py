"""Follow surface: the light and dark beneath shift the art's pixels, across and down.

Source: the displacement formula of W3C Filter Effects Level 1 (feDisplacementMap), with the surface's own mean tone
in the place of 0.5, so that a dark surface bends the mark without carrying it away as a whole.
"""

import math

import numpy as np

from kilncore.blur import blur_within
from kilncore.blur import reach as blur_reach
from kilncore.model import Model
from kilncore.steady import steadied, steady_reach
from kilncore.steps.base import Move, Whole, setting, step
from kilncore.units import Length, px


class FollowParams(Model):
    across: Length = setting(px(8), "Across", "How far the surface moves the art sideways.", "length", soft=(-60, 60))
    down: Length = setting(px(8), "Down", "How far the surface moves the art up and down.", "length", soft=(-60, 60))
    smooth: Length = setting(px(2), "Smooth the surface", "Smoothing first keeps edges from tearing.", "length", soft=(0, 20))


def summary(params: FollowParams) -> str:
    return f"{params.across} across, {params.down} down"


def _sigma(params, frame) -> float:
    return min(max(frame.length(params.smooth), 0), 60)


def _shift(params, frame) -> int:
    most = max(abs(frame.length(params.across)), abs(frame.length(params.down)))
    return math.ceil(min(most, 2000))


def _tones_of_tile(params, view):
    tones = view.beneath_luma()
    return float(tones.sum(dtype=np.float64)), tones.size


def _mean(parts) -> float:
    count = sum(size for _, size in parts)
    return math.fsum(total for total, _ in parts) / count if count else 0.5


def _reach(params, frame) -> int:
    return steady_reach(frame.scale) + blur_reach(_sigma(params, frame))


@step("follow", title="Follow surface", sentence="The surface's light and dark bend the art. Too much looks torn.",
      gives="move", params=FollowParams, summary=summary, reads_beneath=True, offered_for=("mark", "piece"),
      reach=_reach, shift=_shift, whole=Whole(_tones_of_tile, _mean, reads=lambda params: None))
def follow(params: FollowParams, view):
    relief, *bounds = _kept_relief(params, view)
    most = _shift(params, view.frame)
    times = tuple(min(max(view.frame.length(n), -most), most) for n in (params.across, params.down))
    return Move(relief, relief, times, view.whole(), tuple(bounds))


def _kept_relief(params, view):
    key = ("relief", view.beneath_key, _sigma(params, view.frame), view.frame.scale)
    return view.source(key, lambda: _relief(params, view))


def _relief(params, view):
    """The luma beneath, freed of the steps of 8-bit sources and smoothed; its least and its largest value."""
    sigma, margin = _sigma(params, view.frame), _reach(params, view.frame)
    left, top = view.box.left - margin, view.box.top - margin
    tones, left, top = steadied(view.beneath_luma(margin)[None], view.frame.scale, left, top)
    relief = blur_within(tones, sigma, sigma, left, top)[0]
    return relief, float(relief.min()), float(relief.max())
