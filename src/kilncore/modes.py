"""The blend modes: 16 of W3C Compositing and Blending Level 1, plus-lighter, and eight more under plain names.

`cb` is the backdrop's colour, `cs` the source's, straight, 0..1, as in the standard. Every rule is one small function
below; `blend` runs the asked one over a row of one channel. Those that need all three channels are put together from
rows in `whole_modes`. docs/engine.md has their table.

A new mode is its rule, its line in MODES and its line in `blend`, or a function in `whole_modes.WHOLE`.
"""

import math
from dataclasses import dataclass

import numpy as np

from kilncore.errors import KilnError
from kilncore.kernels import floats, inlined, part

ZERO, HALF, ONE, TWO, TINY = map(np.float32, (0, 0.5, 1, 2, 1e-6))
NEARLY = np.float32(1 - 1e-6)  # a colour of 1 may come back from its premultiplied form a hair below


@dataclass(frozen=True)
class BlendMode:
    """number : its place in MODES, by which the compiled functions know it."""

    name: str
    title: str
    number: int


MODES = (
    ("normal", "Normal"), ("multiply", "Multiply"), ("screen", "Screen"), ("overlay", "Overlay"), ("darken", "Darken"),
    ("lighten", "Lighten"), ("color-dodge", "Colour dodge"), ("color-burn", "Colour burn"), ("hard-light", "Hard light"),
    ("soft-light", "Soft light"), ("difference", "Difference"), ("exclusion", "Exclusion"), ("hue", "Hue"),
    ("saturation", "Saturation"), ("color", "Colour"), ("luminosity", "Luminosity"), ("plus-lighter", "Plus lighter"),
    ("add", "Add"), ("subtract", "Subtract"), ("divide", "Divide"), ("linear-burn", "Linear burn"),
    ("linear-light", "Linear light"), ("inverse-difference", "Inverse difference"), ("darker-color", "Darker colour"),
    ("lighter-color", "Lighter colour"),
)
BLEND_MODES = {name: BlendMode(name, title, number) for number, (name, title) in enumerate(MODES)}


def mode_named(name: str) -> BlendMode:
    """The mode of that name (the CSS one, where CSS has it), or a KilnError."""
    if name not in BLEND_MODES:
        raise KilnError(f"A blend mode must be one of: {', '.join(BLEND_MODES)}.", name)
    return BLEND_MODES[name]


@inlined
def _multiply(cb, cs):
    return cb * cs


@inlined
def _screen(cb, cs):
    return cb + cs - cb * cs


@inlined
def _hard_light(cb, cs):
    d = TWO * cs - ONE
    return TWO * cs * cb if cs <= HALF else cb + d - cb * d


@inlined
def _overlay(cb, cs):  # hard light with the layers swapped
    return _hard_light(cs, cb)


@inlined
def _darken(cb, cs):
    return min(cb, cs)


@inlined
def _lighten(cb, cs):
    return max(cb, cs)


@inlined
def _color_dodge(cb, cs):
    lit = ONE if cs >= NEARLY else min(ONE, cb / max(ONE - cs, TINY))
    return ZERO if cb <= ZERO else lit


@inlined
def _color_burn(cb, cs):
    burnt = ZERO if cs <= ZERO else ONE - min(ONE, (ONE - cb) / max(cs, TINY))
    return ONE if cb >= NEARLY else burnt


@inlined
def _soft_light(cb, cs):
    k = TWO * cs - ONE
    dark = ((np.float32(16) * cb - np.float32(12)) * cb + np.float32(4)) * cb
    d = dark if cb <= np.float32(0.25) else np.float32(math.sqrt(cb))
    return cb + k * cb * (ONE - cb) if cs <= HALF else cb + k * (d - cb)


@inlined
def _difference(cb, cs):
    return abs(cb - cs)


@inlined
def _exclusion(cb, cs):
    return cb + cs - TWO * cb * cs


@inlined
def _add(cb, cs):
    return min(ONE, cb + cs)


@inlined
def _subtract(cb, cs):
    return max(ZERO, cb - cs)


@inlined
def _divide(cb, cs):
    return min(ONE, cb / max(cs, TINY))


@inlined
def _linear_burn(cb, cs):
    return max(ZERO, cb + cs - ONE)


@inlined
def _linear_light(cb, cs):
    return min(max(ZERO, cb + TWO * cs - ONE), ONE)


@inlined
def _inverse_difference(cb, cs):
    return ONE - abs(ONE - cb - cs)


# --- over a row of pixels ---


@part
def blend(mode, out, below, above, n):
    """out = B(cb, cs) for `n` values of one channel, straight. mode : a BlendMode's number; the others by addresses."""
    out, cb, cs = floats(out), floats(below), floats(above)
    if mode == 1:
        for x in range(n):
            out[x] = _multiply(cb[x], cs[x])
    elif mode == 2:
        for x in range(n):
            out[x] = _screen(cb[x], cs[x])
    elif mode == 3:
        for x in range(n):
            out[x] = _overlay(cb[x], cs[x])
    elif mode == 4:
        for x in range(n):
            out[x] = _darken(cb[x], cs[x])
    elif mode == 5:
        for x in range(n):
            out[x] = _lighten(cb[x], cs[x])
    elif mode == 6:
        for x in range(n):
            out[x] = _color_dodge(cb[x], cs[x])
    elif mode == 7:
        for x in range(n):
            out[x] = _color_burn(cb[x], cs[x])
    elif mode == 8:
        for x in range(n):
            out[x] = _hard_light(cb[x], cs[x])
    elif mode == 9:
        for x in range(n):
            out[x] = _soft_light(cb[x], cs[x])
    elif mode == 10:
        for x in range(n):
            out[x] = _difference(cb[x], cs[x])
    elif mode == 11:
        for x in range(n):
            out[x] = _exclusion(cb[x], cs[x])
    elif mode == 17:
        for x in range(n):
            out[x] = _add(cb[x], cs[x])
    elif mode == 18:
        for x in range(n):
            out[x] = _subtract(cb[x], cs[x])
    elif mode == 19:
        for x in range(n):
            out[x] = _divide(cb[x], cs[x])
    elif mode == 20:
        for x in range(n):
            out[x] = _linear_burn(cb[x], cs[x])
    elif mode == 21:
        for x in range(n):
            out[x] = _linear_light(cb[x], cs[x])
    elif mode == 22:
        for x in range(n):
            out[x] = _inverse_difference(cb[x], cs[x])
