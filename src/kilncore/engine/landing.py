"""Landing: how a step's result meets the step's input, and a finished item what lies beneath it. Done here, once."""

import math
from functools import singledispatch

import numpy as np

from kilncore import compose
from kilncore.engine.weights import weight_of
from kilncore.masks import Mask
from kilncore.rows.picture import Picture, of_planes
from kilncore.rows.tape import Row
from kilncore.sampling import shifted
from kilncore.steps.base import Cover, Move, Paint, Remake


def passes(strength: float) -> list[float]:
    """Strength 1.6 is one full pass and one at 0.6, each on the last one's output."""
    return [min(1.0, strength - i) for i in range(math.ceil(strength))]


@singledispatch
def landed(result, landing, view, linear=False) -> Picture | None:
    raise TypeError(f"a step must return Paint, Cover, Remake or Move, not {type(result).__name__}")


@landed.register
def _(result: tuple, landing, view, linear=False):
    """Several results of one step, in order, each on the last one's output."""
    for one in result:
        view.take(landed(one, landing, view, linear))
    return view.picture()


@landed.register
def _(result: Paint, landing, view, linear=False):
    source = _held(result.picture, view)
    return painted(view.picture(), source, landing, weight_of(landing, view, source), result.kept_to_art, linear)


@landed.register
def _(result: Cover, landing, view, linear=False):
    mask = (result.shown if isinstance(result.shown, Mask) else Mask(_row(result.shown, view))).held()
    weight = weight_of(landing, view, of_planes(view.tape, mask.shown))
    return compose.cover(view.picture(), mask, _times(weight, min(landing.strength, 1)))


@landed.register
def _(result: Remake, landing, view, linear=False):
    made = (result.picture if isinstance(result.picture, Picture) else view.pictured(result.picture)).held()
    weight = weight_of(landing, view, made)
    if landing.mode != "normal":
        shares = passes(landing.strength)
    else:
        weight, shares = _times(weight, min(landing.strength, 1)), [1.0]
    if landing.mode == "normal" and not linear and not isinstance(weight, Row) and weight == 1:
        return made
    picture = view.picture()
    for share in shares:
        picture = compose.remake(picture, made, landing.mode, _times(weight, share), linear)
    return picture


@landed.register
def _(result: Move, landing, view, linear=False):
    weight = view.aside(lambda aside: weight_of(landing, aside, None))
    dx, dy, still, bounds = result.dx, result.dy, result.still, result.bounds
    if isinstance(weight, np.ndarray):
        dx, dy, still, bounds = (dx - np.float32(still)) * weight, (dy - np.float32(still)) * weight, 0.0, None
    low, high = bounds or (min(dx.min(), dy.min()), max(dx.max(), dy.max()))
    if not (math.isfinite(low) and math.isfinite(high)):
        raise ValueError("a step moves by what is not a number")
    times = [n * landing.strength for n in result.times]
    margin = math.ceil(max(float(high) - still, still - float(low)) * max(map(abs, times))) + 2
    return view.pictured(shifted(view.input(margin), dx, dy, margin, margin, times=times, still=still))


def painted(picture, source: Picture, landing, weight, kept=False, linear=False) -> Picture | None:
    for share in passes(landing.strength):
        picture = compose.paint(picture, source, landing.mode, _times(weight, share), kept, linear)
    return picture


def _held(picture, view) -> Picture:
    """What a step gives to paint with. The landing cuts its colours, but counts on its alpha; arrays may hold anything."""
    if isinstance(picture, np.ndarray):
        return of_planes(view.tape, picture, view.box).held()
    picture = picture if isinstance(picture, Picture) else of_planes(view.tape, picture)
    return picture if picture.alpha is None else picture.held()


def _row(plane, view) -> Row:
    return plane if isinstance(plane, Row) else view.loaded(plane)


def _times(weight, share: float):
    return weight if share == 1 else weight * share
