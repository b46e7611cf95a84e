"""The blend modes that need all three channels at once, put together from registers.

Source: W3C Compositing and Blending Level 1, section 10.2 (Lum, ClipColor, SetLum, Sat, SetSat).
SetSat is worked out without sorting: channels are moved so that the least is 0 and stretched so
that the most is the saturation.
"""

from typing import Any

LUM = (0.3, 0.59, 0.11)


def _lum(colour: tuple):
    return colour[0].program.op("weighted", *colour, numbers=LUM)


def _bounds(colour: tuple):
    """The least and the most of three channels."""
    program, (r, g, b) = colour[0].program, colour
    return program.op("min", program.op("min", r, g), b), program.op(
        "max", program.op("max", r, g), b
    )


def _with_lum(colour: tuple, lum: Any):
    program, (low, high) = lum.program, _bounds(colour)
    shift = lum - _lum(colour)
    scale = program.op("clip_scale", low, high, lum, shift)
    return tuple(program.op("clip_colour", channel, lum, shift, scale) for channel in colour)


def _sat(colour: tuple):
    low, high = _bounds(colour)
    return high - low


def _with_sat(colour: tuple, sat: Any):
    """A grey has no spread, and nothing to stretch."""
    low, high = _bounds(colour)
    factor = sat.program.op("ratio", sat, high - low)
    return tuple(sat.program.op("stretch", channel, low, factor) for channel in colour)


def _hue(cb: tuple, cs: tuple):
    return _with_lum(_with_sat(cs, _sat(cb)), _lum(cb))


def _saturation(cb: tuple, cs: tuple):
    return _with_lum(_with_sat(cb, _sat(cs)), _lum(cb))


def _color(cb: tuple, cs: tuple):
    return _with_lum(cs, _lum(cb))


def _luminosity(cb: tuple, cs: tuple):
    return _with_lum(cb, _lum(cs))


def _darker_color(cb: tuple, cs: tuple):
    below, above = _lum(cb), _lum(cs)
    return tuple(
        below.program.op("select", below, above, b, s) for b, s in zip(cb, cs, strict=True)
    )


def _lighter_color(cb: tuple, cs: tuple):
    below, above = _lum(cb), _lum(cs)
    return tuple(
        below.program.op("select", above, below, b, s) for b, s in zip(cb, cs, strict=True)
    )


NON_SEPARABLE = {
    "hue": _hue,
    "saturation": _saturation,
    "color": _color,
    "luminosity": _luminosity,
    "darker-color": _darker_color,
    "lighter-color": _lighter_color,
}
