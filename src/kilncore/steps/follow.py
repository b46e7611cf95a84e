"""Follow surface: the light and dark beneath shift the art's pixels, across and down.

Source: the displacement formula of W3C Filter Effects Level 1 (feDisplacementMap), with the surface's own mean tone
in the place of 0.5, so that a dark surface bends the mark without carrying it away as a whole.
"""

import math

from kilncore.blur import blur_within
from kilncore.blur import reach as blur_reach
from kilncore.masks import luma
from kilncore.model import Model
from kilncore.steps.base import Move, setting, step
from kilncore.units import Length, px


class FollowParams(Model):
    across: Length = setting(px(8), "Across", "How far the surface moves the art sideways.", "length", soft=(-60, 60))
    down: Length = setting(px(8), "Down", "How far the surface moves the art up and down.", "length", soft=(-60, 60))
    smooth: Length = setting(px(2), "Smooth the surface", "Smoothing first keeps edges from tearing.", "length", soft=(0, 20))


def summary(params: FollowParams) -> str:
    return f"{params.across.value:g} {params.across.unit} across, {params.down.value:g} {params.down.unit} down"


def _sigma(params, frame) -> float:
    return min(max(frame.length(params.smooth), 0), 60)


def _shift(params, frame) -> int:
    most = max(abs(frame.length(params.across)), abs(frame.length(params.down)))
    return math.ceil(min(most, 2000))


@step("follow", title="Follow surface", sentence="The surface's light and dark bend the art. Too much looks torn.",
      gives="move", params=FollowParams, summary=summary, reads_beneath=True, offered_for=("mark", "piece"),
      reach=lambda params, frame: blur_reach(_sigma(params, frame)), shift=_shift)
def follow(params: FollowParams, view):
    sigma = _sigma(params, view.frame)
    tones = luma(view.beneath(blur_reach(sigma)))[None]
    relief = blur_within(tones, sigma, sigma)[0] - view.mean_beneath()
    most = _shift(params, view.frame)
    across, down = (min(max(view.frame.length(n), -most), most) for n in (params.across, params.down))
    return Move(relief * across, relief * down)
