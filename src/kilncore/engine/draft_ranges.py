"""What a blend range in a draft has in common with the tones that it weighs.

Where a range lets the lights of the ground through and something is laid on those very lights, the
mean of the products is not the product of the means. For normal tones T of variance V, E[w(T) f(T)]
is E[w] E[f] + V E[w'] f' to first order (Stein 1981): that is added to what was laid.
"""

from dataclasses import replace
from typing import Any

from kilncore.blending.compositing import blended
from kilncore.compiled.program import Register
from kilncore.engine.weights import OWN, shared_ranges
from kilncore.graph.protocols import LandingView
from kilncore.landing import Landing
from kilncore.landing.model import BENEATH
from kilncore.pixels.picture import Picture


def with_shared_tones(
    laid: Picture | None,
    picture: Picture | None,
    source: Picture,
    landing: Landing,
    view: LandingView,
    variance: Register | None,
    on_itself: bool,
) -> Picture | None:
    """What was laid, with what ranges and tones have in common. on_itself : what lies beneath is
    what is laid upon.
    """
    if laid is None or picture is None or view.frame.scale >= 1:
        return laid
    below, above = picture.unpremultiply(), source.unpremultiply()
    for ranged, others in shared_ranges(landing, view, source, variance):
        if ranged.of != BENEATH or on_itself:
            weight = ranged.slope * others * min(landing.strength, 1.0)
            weight = weight if source.alpha is None else weight * source.alpha
            moves = (
                _common(landing.mode, n, below.colour, above.colour, ranged) * weight
                for n in range(3)
            )
            laid = _added(laid, picture, tuple(moves))
    return laid


def _common(mode: str, n: int, below: tuple, above: tuple, ranged: Any) -> Register:
    """V f' of one channel: how what is laid changes with the tones, times their variance."""
    program = ranged.variance.program
    spread = program.op("root", ranged.variance)
    if ranged.of == OWN:
        low, high = (blended(mode, below, tuple(_moved(above, spread, way)))[n] for way in (-1, 1))
        return (high - low) * 0.5 * spread
    low, high = (blended(mode, tuple(_moved(below, spread, way)), above)[n] for way in (-1, 1))
    return ((high - low) * 0.5 - spread) * spread


def _moved(colour: tuple, spread: Register, way: int) -> list[Register]:
    return [(channel + spread * way).clamped() for channel in colour]


def _added(laid: Picture, picture: Picture, moves: tuple) -> Picture:
    program = laid.program
    if laid.premultiplied:
        alpha = program.constant(1) if picture.alpha is None else picture.alpha
        moves = tuple(move * alpha for move in moves)
        return replace(
            laid,
            colour=tuple(
                program.op("clamp_to", c + m, laid.covered)
                for c, m in zip(laid.colour, moves, strict=True)
            ),
        )
    return replace(
        laid,
        colour=tuple((c + m).clamped() for c, m in zip(laid.colour, moves, strict=True)),
        tint=None,
    )
