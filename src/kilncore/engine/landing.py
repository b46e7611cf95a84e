"""Landing: how a step's result meets the step's input. Done here, once, for every step."""

import math
from functools import singledispatch

import numpy as np

from kilncore import compose
from kilncore.sampling import shifted
from kilncore.steps.base import Cover, Move, Paint, Remake


def passes(strength: float) -> list[float]:
    """Strength 1.6 is one full pass and one at 0.6, each on the last one's output."""
    return [min(1.0, strength - i) for i in range(math.ceil(strength))]


@singledispatch
def landed(result, landing, view) -> np.ndarray:
    raise TypeError(f"a step must return Paint, Cover, Remake or Move, not {type(result).__name__}")


@landed.register
def _(result: Paint, landing, view):
    picture = view.input(0)
    for weight in passes(landing.strength):
        picture = compose.paint(picture, result.picture, landing.mode, weight, result.kept_to_art)
    return picture


@landed.register
def _(result: Cover, landing, view):
    return compose.cover(view.input(0), result.shown, min(landing.strength, 1))


@landed.register
def _(result: Remake, landing, view):
    picture = view.input(0)
    strength = min(landing.strength, 1) if landing.mode == "normal" else landing.strength
    for weight in passes(strength):
        picture = compose.remake(picture, result.picture, landing.mode, weight)
    return picture


@landed.register
def _(result: Move, landing, view):
    if not landing.strength:
        return view.input(0)
    strength = np.float32(landing.strength)
    dx, dy = result.dx * strength, result.dy * strength
    margin = math.ceil(max(np.abs(dx).max(), np.abs(dy).max())) + 2
    return shifted(view.input(margin), dx, dy, margin, margin)
