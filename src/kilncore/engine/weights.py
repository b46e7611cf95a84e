"""The weight with which something lands, apart from its strength: blend ranges, limits, fade and touch-up, multiplied."""

import math
from functools import singledispatch

from kilncore.blur import blur_within, reach
from kilncore.colour import hex_to_rgb
from kilncore.landing import ColourLimit, Landing, MarkLimit, RegionLimit
from kilncore.rows.picture import Picture
from kilncore.rows.tape import Row
from kilncore.shapes import ramp, region

FEATHER_SIGMA = 1 / 3  # a Gaussian looks about three sigma wide


def weight_of(landing: Landing, view, own: Picture | None) -> Row | float:
    """0..1, a number or a row. own : what lands, or None if it has no tones (a move)."""
    weight = 1.0
    for factor in _factors(landing, view, own):
        weight = factor if isinstance(weight, float) else weight * factor
    return weight


def outline_reach(landing: Landing, frame) -> int:
    """Output px around a pixel that its marks' outlines are read in."""
    return max((reach(_sigma(limit, frame)) for limit in landing.limits if limit.kind == "mark"), default=0)


def _factors(landing, view, own):
    if landing.gate_own and own is not None:
        yield _through(landing.gate_own, view.tape, own)
    if landing.gate_input:
        yield _through(landing.gate_input, view.tape, view.picture())
    if landing.gate_beneath:
        yield _through(landing.gate_beneath, view.tape, view.beneath())
    for limit in landing.limits:
        inside = _inside(limit, view)
        yield 1 - inside if limit.outside else inside
    if landing.fade:
        yield view.loaded(_faded(landing.fade, view))
    if landing.touch:
        yield view.loaded(view.touched(landing.touch))


def _through(gate, tape, picture: Picture | None) -> Row:
    points = (gate.hidden_below, gate.shown_from, gate.shown_to, gate.hidden_above)
    return tape.row("trapezoid", tape.constant(0) if picture is None else picture.tones(), numbers=points)


@singledispatch
def _inside(limit, view) -> Row:
    raise TypeError(f"no rule says where {type(limit).__name__} lies")


@_inside.register
def _(limit: MarkLimit, view):
    sigma = _sigma(limit, view.frame)
    margin = reach(sigma)
    alpha = view.outline(limit.mark, margin)
    return view.loaded(blur_within(alpha[None], sigma, sigma, view.box.left - margin, view.box.top - margin)[0])


@_inside.register
def _(limit: ColourLimit, view):
    picture = view.picture()
    colour = picture.seen() if picture else [view.tape.constant(0)] * 3
    away = view.tape.row("away", *colour, numbers=tuple(hex_to_rgb(limit.colour)))
    return 1 - view.tape.row("levels", away, numbers=(limit.tolerance, 1 / max(limit.softness, 1e-6)))


@_inside.register
def _(limit: RegionLimit, view):
    middle, size = ([view.frame.page_length(n) for n in pair] for pair in ((limit.x, limit.y), (limit.width, limit.height)))
    feather = view.frame.page_length(limit.feather)
    return view.loaded(region(limit.shape, middle, size, math.radians(limit.rotation_deg), feather, view.box))


def _faded(fade, view):
    first, second = ([view.frame.page_length(n) for n in pair] for pair in ((fade.x0, fade.y0), (fade.x1, fade.y1)))
    return ramp(fade.shape, first, second, fade.start, fade.end, view.box)


def _sigma(limit, frame) -> float:
    return min(max(frame.page_length(limit.feather) * FEATHER_SIGMA, 0), 200)
