"""The blend modes: 16 of W3C Compositing and Blending Level 1, plus-lighter, and eight more under plain names.

`cb` is the backdrop's colour, `cs` the source's, straight, 0..1, as in the standard. Every rule is one small function
below, of one channel or of three; `blend` runs the asked one over a row of pixels. docs/engine.md has their table.

A new mode is its rule, its line in MODES and its lines in `_blend_one` or `_blend_all`.
"""

import math
from dataclasses import dataclass

import numpy as np

from kilncore.errors import KilnError
from kilncore.kernels import inlined, part

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
NORMAL, PLUS_LIGHTER = BLEND_MODES["normal"].number, BLEND_MODES["plus-lighter"].number


def mode_named(name: str) -> BlendMode:
    """The mode of that name (the CSS one, where CSS has it), or a KilnError."""
    if name not in BLEND_MODES:
        raise KilnError(f"A blend mode must be one of: {', '.join(BLEND_MODES)}.", name)
    return BLEND_MODES[name]


# --- rules for one channel ---


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
    return min(max(cb + TWO * cs - ONE, ZERO), ONE)


@inlined
def _inverse_difference(cb, cs):
    return ONE - abs(ONE - cb - cs)


# --- rules for all three ---


@inlined
def _lum(r, g, b):
    return np.float32(0.3) * r + np.float32(0.59) * g + np.float32(0.11) * b


@inlined
def _sat(r, g, b):
    return max(r, g, b) - min(r, g, b)


@inlined
def _with_lum(r, g, b, lum):
    """SetLum followed by ClipColor."""
    shift = lum - _lum(r, g, b)
    r, g, b = r + shift, g + shift, b + shift
    level, low, high = _lum(r, g, b), min(r, g, b), max(r, g, b)
    down = level / max(level - low, TINY) if low < ZERO else ONE
    up = (ONE - level) / max(high - level, TINY) if high > ONE else ONE
    scale = min(down, up)
    return level + (r - level) * scale, level + (g - level) * scale, level + (b - level) * scale


@inlined
def _with_sat(r, g, b, sat):
    """SetSat: a grey has no spread, and nothing to stretch."""
    low, factor = min(r, g, b), sat / max(_sat(r, g, b), TINY)
    return (r - low) * factor, (g - low) * factor, (b - low) * factor


@inlined
def _hue(rb, gb, bb, rs, gs, bs):
    r, g, b = _with_sat(rs, gs, bs, _sat(rb, gb, bb))
    return _with_lum(r, g, b, _lum(rb, gb, bb))


@inlined
def _saturation(rb, gb, bb, rs, gs, bs):
    r, g, b = _with_sat(rb, gb, bb, _sat(rs, gs, bs))
    return _with_lum(r, g, b, _lum(rb, gb, bb))


@inlined
def _color(rb, gb, bb, rs, gs, bs):
    return _with_lum(rs, gs, bs, _lum(rb, gb, bb))


@inlined
def _luminosity(rb, gb, bb, rs, gs, bs):
    return _with_lum(rb, gb, bb, _lum(rs, gs, bs))


@inlined
def _darker_color(rb, gb, bb, rs, gs, bs):
    below = _lum(rb, gb, bb) <= _lum(rs, gs, bs)
    return (rb if below else rs), (gb if below else gs), (bb if below else bs)


@inlined
def _lighter_color(rb, gb, bb, rs, gs, bs):
    below = _lum(rb, gb, bb) >= _lum(rs, gs, bs)
    return (rb if below else rs), (gb if below else gs), (bb if below else bs)


# --- over a row of pixels ---


@part
def blend(mode, cb, cs, out):
    """out = B(cb, cs) for a row. Each three (W,) float32 arrays, straight: red, green, blue. mode : a BlendMode's number."""
    if 12 <= mode <= 15 or mode >= 23:
        _blend_all(mode, cb[0], cb[1], cb[2], cs[0], cs[1], cs[2], out[0], out[1], out[2])
    else:
        _blend_one(mode, cb[0], cs[0], out[0])
        _blend_one(mode, cb[1], cs[1], out[1])
        _blend_one(mode, cb[2], cs[2], out[2])


@part
def _blend_all(mode, rb, gb, bb, rs, gs, bs, r, g, b):
    if mode == 12:
        for x in range(r.size):
            r[x], g[x], b[x] = _hue(rb[x], gb[x], bb[x], rs[x], gs[x], bs[x])
    elif mode == 13:
        for x in range(r.size):
            r[x], g[x], b[x] = _saturation(rb[x], gb[x], bb[x], rs[x], gs[x], bs[x])
    elif mode == 14:
        for x in range(r.size):
            r[x], g[x], b[x] = _color(rb[x], gb[x], bb[x], rs[x], gs[x], bs[x])
    elif mode == 15:
        for x in range(r.size):
            r[x], g[x], b[x] = _luminosity(rb[x], gb[x], bb[x], rs[x], gs[x], bs[x])
    elif mode == 23:
        for x in range(r.size):
            r[x], g[x], b[x] = _darker_color(rb[x], gb[x], bb[x], rs[x], gs[x], bs[x])
    elif mode == 24:
        for x in range(r.size):
            r[x], g[x], b[x] = _lighter_color(rb[x], gb[x], bb[x], rs[x], gs[x], bs[x])


@part
def _blend_one(mode, cb, cs, out):
    if mode == 0 or mode == 16:  # plus-lighter is a way of compositing; its colour is the source's
        for x in range(out.size):
            out[x] = cs[x]
    elif mode == 1:
        for x in range(out.size):
            out[x] = _multiply(cb[x], cs[x])
    elif mode == 2:
        for x in range(out.size):
            out[x] = _screen(cb[x], cs[x])
    elif mode == 3:
        for x in range(out.size):
            out[x] = _overlay(cb[x], cs[x])
    elif mode == 4:
        for x in range(out.size):
            out[x] = _darken(cb[x], cs[x])
    elif mode == 5:
        for x in range(out.size):
            out[x] = _lighten(cb[x], cs[x])
    elif mode == 6:
        for x in range(out.size):
            out[x] = _color_dodge(cb[x], cs[x])
    elif mode == 7:
        for x in range(out.size):
            out[x] = _color_burn(cb[x], cs[x])
    elif mode == 8:
        for x in range(out.size):
            out[x] = _hard_light(cb[x], cs[x])
    elif mode == 9:
        for x in range(out.size):
            out[x] = _soft_light(cb[x], cs[x])
    elif mode == 10:
        for x in range(out.size):
            out[x] = _difference(cb[x], cs[x])
    elif mode == 11:
        for x in range(out.size):
            out[x] = _exclusion(cb[x], cs[x])
    elif mode == 17:
        for x in range(out.size):
            out[x] = _add(cb[x], cs[x])
    elif mode == 18:
        for x in range(out.size):
            out[x] = _subtract(cb[x], cs[x])
    elif mode == 19:
        for x in range(out.size):
            out[x] = _divide(cb[x], cs[x])
    elif mode == 20:
        for x in range(out.size):
            out[x] = _linear_burn(cb[x], cs[x])
    elif mode == 21:
        for x in range(out.size):
            out[x] = _linear_light(cb[x], cs[x])
    elif mode == 22:
        for x in range(out.size):
            out[x] = _inverse_difference(cb[x], cs[x])
