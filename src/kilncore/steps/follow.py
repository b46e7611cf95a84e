"""Follow surface: a surface shifts the art's pixels, across and down.

By tone: the displacement formula of W3C Filter Effects Level 1 (feDisplacementMap), with the
surface's own mean tone in the place of 0.5, so that a dark surface bends the mark without carrying
it away as a whole; or with 0.5 itself. By slope: pixels slide along the slopes of the surface, as
`sampling.displace_by_slope` has it; slopes are told of document px, so that drafts bend as much.
"""

import math
from typing import Any

import numpy as np

from kilncore.blur import blur_within
from kilncore.blur import reach as blur_reach
from kilncore.graph.plane import Plane
from kilncore.graph.protocols import View
from kilncore.graph.sources import Sources
from kilncore.planes.debanding import debanded, debanding_reach
from kilncore.planes.mean import MeanTone
from kilncore.planes.tones import TextureTones, Tones
from kilncore.steps.base import Move, step
from kilncore.steps.follow_settings import (
    BENEATH,
    SLOPE,
    SPLIT,
    TEXTURE,
    FollowSettings,
    states,
    summary,
)

SLOPE_PX = 10.0  # document px within which black rises to white for the whole amount
STEEPEST = 2.0  # times the amount, at most
RIM = 1  # px around, by which it is told where shifts are steep
MOST_PX = 2000


def _sigma(settings: FollowSettings, frame: Any) -> float:
    return min(max(frame.length(settings.smooth), 0), 60)


def _amounts(settings: FollowSettings, frame: Any) -> tuple[float, float]:
    """Output px, across and down."""
    down = settings.across if settings.linked else settings.down
    lengths = (frame.length(one) for one in (settings.across, down))
    return tuple(min(max(one, -MOST_PX), MOST_PX) for one in lengths)


def _shift(settings: FollowSettings, frame: Any) -> int:
    most = max(map(abs, _amounts(settings, frame)))
    return math.ceil(min(most * (STEEPEST if settings.way == SLOPE else 1), MOST_PX))


def _axes(settings: FollowSettings) -> dict[str, str]:
    """{axis: the channel that it reads}, one for both where they read the same."""
    if settings.channel == SPLIT:
        return {"across": "red", "down": "green"}
    return {"both": settings.channel}


def _map(settings: FollowSettings, sources: Sources, channel: str) -> Plane:
    if settings.map == TEXTURE and settings.texture is not None:
        stretched = None
        if settings.fit == "stretched":
            stretched = sources.bare.extent.intersection(sources.whole)
        place = settings.texture, settings.placement, sources.frame, channel
        return TextureTones(*place, stretched)
    beneath = settings.map == BENEATH
    margin = _reach(settings, sources.frame)
    return Tones(sources.beneath_within(margin) if beneath else sources.ground(), channel)


def _planes(settings: FollowSettings, sources: Sources) -> dict:
    """The map of each axis, and its mean over the whole item."""
    if settings.map == TEXTURE and settings.texture is None:
        return {}
    measured = sources.measured()
    named: dict[str, Any] = {}
    for axis, channel in _axes(settings).items():
        named[f"map {axis}"] = _map(settings, sources, channel)
        if settings.way != SLOPE and settings.middle == "mean":
            whole = _map(settings, measured, channel)
            named[f"mean {axis}"] = MeanTone(whole, measured.whole)
    return named


def _reach(settings: FollowSettings, frame: Any) -> int:
    return debanding_reach(frame.scale) + blur_reach(_sigma(settings, frame)) + 2 * RIM


@step(
    "follow",
    title="Follow surface",
    sentence="The surface's light and dark bend the art. Too much looks torn.",
    group="In the surface",
    gives="move",
    settings=FollowSettings,
    summary=summary,
    states=states,
    offered_for=("mark", "piece"),
    reach=_reach,
    shift=_shift,
    planes=_planes,
)
def follow(settings: FollowSettings, view: View):
    """A shift by the relief of the map, or by its slopes."""
    axes = [axis for axis in _axes(settings) if f"map {axis}" in view.plane_names]
    if not axes:
        return None
    shifts = [_bent(settings, view, axis) for axis in axes]
    if settings.way == SLOPE:
        (across, _), (_, down) = shifts[0], shifts[-1]
        return _move(settings, view, across, down, 0.0)
    if len(axes) == 1:
        relief, still = shifts[0]
        return _move(settings, view, relief, relief, still)
    across, down = (relief - np.float32(still) for relief, still in shifts)
    return _move(settings, view, across, down, 0.0)


def _move(
    settings: FollowSettings, view: Any, across: np.ndarray, down: np.ndarray, still: float
) -> Move:
    bounds = float(min(across.min(), down.min())), float(max(across.max(), down.max()))
    times = _amounts(settings, view.frame)
    return Move(across, down, times, still, bounds, RIM, settings.beyond)


def _bent(settings: FollowSettings, view: Any, axis: str):
    """Of a tone: (relief, the tone that moves nothing). Of slopes: (across, down). Arrays with RIM
    px around."""
    still = _still(settings, view, axis)
    bending = (settings.contrast, settings.invert, settings.way, still)
    key = (f"relief {axis}", view.plane_key(f"map {axis}"), _sigma(settings, view.frame), *bending)

    def make():
        relief = _contrasted(_relief(settings, view, axis), settings, still)
        if settings.way == SLOPE:
            return _slopes(relief, view.frame.scale)
        inner = slice(1, -1)
        return np.ascontiguousarray(relief[inner, inner]), 1 - still if settings.invert else still

    return view.source(key, make)


def _still(settings: FollowSettings, view: Any, axis: str) -> float:
    name = f"mean {axis}"
    return view.value(name) if name in view.plane_names else 0.5


def _relief(settings: FollowSettings, view: Any, axis: str) -> np.ndarray:
    """The tones of the map, freed of the steps of 8-bit sources and smoothed, with RIM + 1 px
    around."""
    sigma, margin = _sigma(settings, view.frame), _reach(settings, view.frame)
    left, top = view.box.left - margin, view.box.top - margin
    tones = view.plane_array(f"map {axis}", margin)[None]
    tones, left, top = debanded(tones, view.frame.scale, left, top)
    return blur_within(tones, sigma, sigma, left, top)[0]


def _contrasted(relief: np.ndarray, settings: FollowSettings, still: float) -> np.ndarray:
    """More or less contrast about the tone that moves nothing, within 0..1."""
    if settings.contrast != 1:
        times, middle = np.float32(settings.contrast), np.float32(still)
        relief = np.clip(middle + (relief - middle) * times, 0, 1)
    return 1 - relief if settings.invert else relief


def _slopes(relief: np.ndarray, scale: float) -> tuple[np.ndarray, np.ndarray]:
    """Of black to white within SLOPE_PX document px, at most STEEPEST."""
    times = np.float32(0.5 * SLOPE_PX * scale)
    across = (relief[1:-1, 2:] - relief[1:-1, :-2]) * times
    down = (relief[2:, 1:-1] - relief[:-2, 1:-1]) * times
    return tuple(np.clip(one, -STEEPEST, STEEPEST) for one in (across, down))
