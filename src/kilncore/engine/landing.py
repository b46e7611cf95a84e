"""Landing: how a step's result meets the step's input, and a finished item what lies beneath it. Done here, once."""

import math
from functools import singledispatch

import numpy as np

from kilncore import compose
from kilncore.engine.full import full
from kilncore.engine.weights import weight_of
from kilncore.sampling import shifted
from kilncore.steps.base import Cover, Move, Paint, Remake


def passes(strength: float) -> list[float]:
    """Strength 1.6 is one full pass and one at 0.6, each on the last one's output."""
    return [min(1.0, strength - i) for i in range(math.ceil(strength))]


@singledispatch
def landed(result, landing, view, linear=False) -> np.ndarray:
    raise TypeError(f"a step must return Paint, Cover, Remake or Move, not {type(result).__name__}")


@landed.register
def _(result: tuple, landing, view, linear=False):
    """Several results of one step, in order, each on the last one's output."""
    for one in result:
        view.take(landed(one, landing, view, linear))
    return view.input()


@landed.register
def _(result: Paint, landing, view, linear=False):
    weight = weight_of(landing, view, result.picture)
    return painted(view.input(), result.picture, landing, weight, result.kept_to_art, linear)


@landed.register
def _(result: Cover, landing, view, linear=False):
    weight = weight_of(landing, view, result.shown[None])
    return compose.cover(view.input(), result.shown, weight * np.float32(min(landing.strength, 1)))


@landed.register
def _(result: Remake, landing, view, linear=False):
    weight = weight_of(landing, view, full(result.picture, view.tint))
    if landing.mode == "normal" and not linear:
        return compose.remake(view.input(), result.picture, "normal", weight * np.float32(min(landing.strength, 1)))
    picture = view.input()
    for share in passes(min(landing.strength, 1) if landing.mode == "normal" else landing.strength):
        picture = compose.remake(picture, result.picture, landing.mode, weight * np.float32(share), linear)
    return picture


@landed.register
def _(result: Move, landing, view, linear=False):
    scale = weight_of(landing, view, None) * np.float32(landing.strength)
    dx, dy = result.dx * scale, result.dy * scale
    margin = math.ceil(max(np.abs(dx).max(), np.abs(dy).max())) + 2
    return shifted(view.input(margin), dx, dy, margin, margin)


def painted(picture, source, landing, weight, kept=False, linear=False) -> np.ndarray:
    for share in passes(landing.strength):
        picture = compose.paint(picture, source, landing.mode, weight * np.float32(share), kept, linear)
    return picture
