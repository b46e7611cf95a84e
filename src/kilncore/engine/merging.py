"""Landing: how a step's result meets the step's input, and a finished item what lies beneath it.
Done here, once.
"""

import math
from functools import singledispatch
from typing import Any

import numpy as np

from kilncore.blending import compositing
from kilncore.compiled.program import Register
from kilncore.engine.draft_ranges import with_shared_tones
from kilncore.engine.weights import weight_of
from kilncore.graph.protocols import View
from kilncore.landing import Landing
from kilncore.pixels.mask import Mask
from kilncore.pixels.picture import Picture, of_planes
from kilncore.sampling import only_within, shifted, with_border
from kilncore.steps.base import Cover, Move, Paint, Remake

RIM_OF_ART = 1  # px that a box of art has around what is solid


def passes(strength: float) -> list[float]:
    """Strength 1.6 is one full pass and one at 0.6, each on the last one's output."""
    return [min(1.0, strength - i) for i in range(math.ceil(strength))]


def own_of(result: Paint, view: View) -> tuple[Picture | None, Register | None]:
    """What lands of a step's result, with the variance of its tones in a draft; None for a move,
    which has no tones."""
    if isinstance(result, Paint):
        return view.painted(result.picture), result.variance
    if isinstance(result, Cover):
        mask = _shown(result, view)
        return of_planes(view.program, mask.shown), _variance(mask)
    if isinstance(result, Remake):
        return _made(result, view), None
    return None, None


def _shown(result: Cover, view: View) -> Mask:
    shown = result.shown
    return (shown if isinstance(shown, Mask) else Mask(_row(shown, view))).clamped()


def _variance(mask: Mask) -> Register | None:
    return None if mask.squared is None else mask.squared - mask.shown * mask.shown


def _made(result: Remake, view: View) -> Picture:
    picture = result.picture
    return (picture if isinstance(picture, Picture) else view.pictured(picture)).clamped()


@singledispatch
def landed(result: Any, landing: Landing, view: View, linear: bool = False) -> Picture | None:
    """A step's result on its input. result : Paint, Cover, Remake, Move or a tuple of them;
    TypeError for any other.
    """
    raise TypeError(f"a step must return Paint, Cover, Remake or Move, not {type(result).__name__}")


@landed.register
def _(result: tuple, landing: Landing, view: Any, linear: bool = False):
    """Several results of one step, in order, each on the last one's output."""
    for one in result:
        view.take(landed(one, landing, view, linear))
    return view.picture()


@landed.register
def _(result: Paint, landing: Landing, view: Any, linear: bool = False):
    source = view.painted(result.picture)
    landing = landing if result.mode is None else landing.model_copy(update={"mode": result.mode})
    weight = weight_of(landing, view, source, result.variance)
    laid = painted(view.picture(), source, landing, weight, result.kept_to_art, linear)
    return with_shared_tones(laid, view.picture(), source, landing, view, result.variance, False)


@landed.register
def _(result: Cover, landing: Landing, view: Any, linear: bool = False):
    mask = _shown(result, view)
    weight = weight_of(landing, view, of_planes(view.program, mask.shown), _variance(mask))
    strength = 1.0 if result.toned else min(landing.strength, 1)
    return compositing.cover(view.picture(), mask, _times(weight, strength))


@landed.register
def _(result: Remake, landing: Landing, view: Any, linear: bool = False):
    made = _made(result, view)
    weight = weight_of(landing, view, made)
    if landing.mode != "normal":
        shares = passes(landing.strength)
    else:
        weight, shares = _times(weight, min(landing.strength, 1)), [1.0]
    if landing.mode == "normal" and not linear and not isinstance(weight, Register) and weight == 1:
        return made
    picture = view.picture()
    for share in shares:
        picture = compositing.remake(picture, made, landing.mode, _times(weight, share), linear)
    return picture


@landed.register
def _(result: Move, landing: Landing, view: Any, linear: bool = False):
    return moved(result, landing, view)


def moved(result: Move, landing: Landing, view: View) -> Picture:
    """One resampling of the view's input."""
    weight = view.aside(lambda aside: weight_of(landing, aside, None))
    dx, dy, still, bounds, rim = result.dx, result.dy, result.still, result.bounds, result.rim
    if isinstance(weight, np.ndarray):
        core = (slice(rim, -rim or None),) * 2
        dx, dy = ((one[core] - np.float32(still)) * weight for one in (dx, dy))
        still, bounds, rim = 0.0, None, 0
    low, high = bounds or (min(dx.min(), dy.min()), max(dx.max(), dy.max()))
    if not (math.isfinite(low) and math.isfinite(high)):
        raise ValueError("a step moves by what is not a number")
    across, down = (n * landing.strength for n in result.times)
    times = across, down
    margin = math.ceil(max(float(high) - still, still - float(low)) * max(map(abs, times))) + 2
    planes = view.input(margin)
    within = view.within.expanded(-RIM_OF_ART)
    kept = result.beyond != "empty" and not within.empty
    if kept:
        planes = with_border(planes, view.box.expanded(margin), within, result.beyond)
    planes_moved = shifted(planes, dx, dy, margin, margin, times=times, still=still, rim=rim)
    if kept:
        planes_moved = only_within(planes_moved, view.box, within)
    return view.pictured(planes_moved)


def painted(
    picture: Picture | None,
    source: Picture,
    landing: Landing,
    weight: Register | float,
    kept: bool = False,
    linear: bool = False,
) -> Picture | None:
    """A picture laid over another, in as many passes as the strength asks for. kept : the lower
    one's alpha stays.
    """
    for share in passes(landing.strength):
        picture = compositing.paint(
            picture, source, landing.mode, _times(weight, share), kept, linear
        )
    return picture


def _row(plane: Register | np.ndarray, view: Any) -> Register:
    return plane if isinstance(plane, Register) else view.loaded(plane)


def _times(weight: Register | float, share: float):
    return weight if share == 1 else weight * share
