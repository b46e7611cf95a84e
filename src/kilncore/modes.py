"""The 16 blend modes.

Source: W3C Compositing and Blending Level 1, sections 9 (separable) and 10 (non-separable).
`cb` is the backdrop's colour, `cs` the source's, straight, 0..1, as in the standard.

A new mode is one decorated function below: `separable` takes a rule for one channel, `over_all` one for three.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from kilncore.errors import KilnError
from kilncore.kernels import elementwise, inlined, over_colours


@dataclass(frozen=True)
class BlendMode:
    name: str
    title: str
    colours: Callable  # (3, H, W) backdrop, (3, H, W) source -> (3, H, W)


BLEND_MODES: dict[str, BlendMode] = {}


def separable(name: str, title: str = ""):
    def register(function):
        BLEND_MODES[name] = BlendMode(name, title or name.capitalize(), elementwise(function))
        return function

    return register


def over_all(name: str):
    def register(function):
        rule = over_colours(function)
        BLEND_MODES[name] = BlendMode(name, name.capitalize(), lambda cb, cs: rule(cb, cs, axes=[0, 0, 0]))
        return function

    return register


def mode_named(name: str) -> BlendMode:
    """The mode of that CSS name, or a KilnError."""
    if name not in BLEND_MODES:
        raise KilnError(f"A blend mode must be one of: {', '.join(BLEND_MODES)}.", name)
    return BLEND_MODES[name]


@separable("normal")
def normal(cb, cs):
    return cs


@separable("multiply")
def multiply(cb, cs):
    return cb * cs


@separable("screen")
def screen(cb, cs):
    return cb + cs - cb * cs


@separable("overlay")
def overlay(cb, cs):  # hard light with the layers swapped
    return 2 * cb * cs if cb <= 0.5 else (2 * cb - 1) + cs - (2 * cb - 1) * cs


@separable("darken")
def darken(cb, cs):
    return min(cb, cs)


@separable("lighten")
def lighten(cb, cs):
    return max(cb, cs)


NEARLY = np.float32(1 - 1e-6)  # a colour of 1 may come back from its premultiplied form a hair below


@separable("color-dodge", "Colour dodge")
def color_dodge(cb, cs):
    if cb <= 0:
        return np.float32(0)
    return np.float32(1) if cs >= NEARLY else min(np.float32(1), cb / max(1 - cs, np.float32(1e-6)))


@separable("color-burn", "Colour burn")
def color_burn(cb, cs):
    if cb >= NEARLY:
        return np.float32(1)
    return np.float32(0) if cs <= 0 else 1 - min(np.float32(1), (1 - cb) / max(cs, np.float32(1e-6)))


@separable("hard-light", "Hard light")
def hard_light(cb, cs):
    return 2 * cs * cb if cs <= 0.5 else cb + (2 * cs - 1) - cb * (2 * cs - 1)


@separable("soft-light", "Soft light")
def soft_light(cb, cs):
    if cs <= 0.5:
        return cb - (1 - 2 * cs) * cb * (1 - cb)
    d = ((16 * cb - 12) * cb + 4) * cb if cb <= 0.25 else np.float32(math.sqrt(cb))
    return cb + (2 * cs - 1) * (d - cb)


@separable("difference")
def difference(cb, cs):
    return abs(cb - cs)


@separable("exclusion")
def exclusion(cb, cs):
    return cb + cs - 2 * cb * cs


@inlined
def _lum(r, g, b):
    return 0.3 * r + 0.59 * g + 0.11 * b


@inlined
def _sat(c):
    return max(c[0], c[1], c[2]) - min(c[0], c[1], c[2])


@inlined
def _with_lum(r, g, b, lum, out):
    """SetLum followed by ClipColor."""
    shift = lum - _lum(r, g, b)
    r, g, b = r + shift, g + shift, b + shift
    level, low, high = _lum(r, g, b), min(r, g, b), max(r, g, b)
    scale = 1.0
    if low < 0:
        scale = level / max(level - low, 1e-12)
    if high > 1:
        scale = min(scale, (1 - level) / max(high - level, 1e-12))
    out[0] = level + (r - level) * scale
    out[1] = level + (g - level) * scale
    out[2] = level + (b - level) * scale


@inlined
def _sat_factor(c, sat):
    spread = _sat(c)
    return sat / max(spread, 1e-12)  # a grey has no spread, and nothing to stretch


@over_all("hue")
def hue(cb, cs, out):
    k, low = _sat_factor(cs, _sat(cb)), min(cs[0], cs[1], cs[2])
    _with_lum((cs[0] - low) * k, (cs[1] - low) * k, (cs[2] - low) * k, _lum(cb[0], cb[1], cb[2]), out)


@over_all("saturation")
def saturation(cb, cs, out):
    k, low = _sat_factor(cb, _sat(cs)), min(cb[0], cb[1], cb[2])
    _with_lum((cb[0] - low) * k, (cb[1] - low) * k, (cb[2] - low) * k, _lum(cb[0], cb[1], cb[2]), out)


@over_all("color")
def color(cb, cs, out):
    _with_lum(cs[0], cs[1], cs[2], _lum(cb[0], cb[1], cb[2]), out)


@over_all("luminosity")
def luminosity(cb, cs, out):
    _with_lum(cb[0], cb[1], cb[2], _lum(cs[0], cs[1], cs[2]), out)


BLEND_MODES["color"] = BlendMode("color", "Colour", BLEND_MODES["color"].colours)
