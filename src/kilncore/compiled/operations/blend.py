"""The separable blend modes: of each a rule, from which its operation is made.

`cb` is the backdrop's colour, `cs` the source's, straight, 0..1, as in W3C Compositing and Blending
Level 1. docs/engine.md has their table, with the source of each. The operation of the mode
`multiply` is named `blend_multiply`.
"""

import math
from typing import Any

import numpy as np

from kilncore.compiled.kernels import floats, inlined
from kilncore.compiled.operation import operation

ZERO, HALF, ONE, TWO, TINY = map(np.float32, (0, 0.5, 1, 2, 1e-6))
NEARLY = np.float32(
    1 - 1e-6
)  # a colour of 1 may come back from its premultiplied form a hair below


def _rule(mode: str):
    """Register out = B(cb, cs) for one channel under the mode's name."""

    def register(rule: Any):
        def loop(out: Any, below: Any, above: Any, n: int):
            out, cb, cs = floats(out), floats(below), floats(above)
            for x in range(n):
                out[x] = rule(cb[x], cs[x])

        operation(f"blend_{mode.replace('-', '_')}", inputs=2)(loop)
        return rule

    return register


@_rule("multiply")
@inlined
def _multiply(cb: float, cs: float):
    return cb * cs


@_rule("screen")
@inlined
def _screen(cb: float, cs: float):
    return cb + cs - cb * cs


@_rule("hard-light")
@inlined
def _hard_light(cb: float, cs: float):
    d = TWO * cs - ONE
    return TWO * cs * cb if cs <= HALF else cb + d - cb * d


@_rule("overlay")
@inlined
def _overlay(cb: float, cs: float):
    return _hard_light(cs, cb)


@_rule("darken")
@inlined
def _darken(cb: float, cs: float):
    return min(cb, cs)


@_rule("lighten")
@inlined
def _lighten(cb: float, cs: float):
    return max(cb, cs)


@_rule("color-dodge")
@inlined
def _color_dodge(cb: float, cs: float):
    lit = ONE if cs >= NEARLY else min(ONE, cb / max(ONE - cs, TINY))
    return ZERO if cb <= ZERO else lit


@_rule("color-burn")
@inlined
def _color_burn(cb: float, cs: float):
    burnt = ZERO if cs <= ZERO else ONE - min(ONE, (ONE - cb) / max(cs, TINY))
    return ONE if cb >= NEARLY else burnt


@_rule("soft-light")
@inlined
def _soft_light(cb: float, cs: float):
    k = TWO * cs - ONE
    dark = ((np.float32(16) * cb - np.float32(12)) * cb + np.float32(4)) * cb
    d = dark if cb <= np.float32(0.25) else np.float32(math.sqrt(cb))
    return cb + k * cb * (ONE - cb) if cs <= HALF else cb + k * (d - cb)


@_rule("difference")
@inlined
def _difference(cb: float, cs: float):
    return abs(cb - cs)


@_rule("exclusion")
@inlined
def _exclusion(cb: float, cs: float):
    return cb + cs - TWO * cb * cs


@_rule("add")
@inlined
def _add(cb: float, cs: float):
    return min(ONE, cb + cs)


@_rule("subtract")
@inlined
def _subtract(cb: float, cs: float):
    return max(ZERO, cb - cs)


@_rule("divide")
@inlined
def _divide(cb: float, cs: float):
    return min(ONE, cb / max(cs, TINY))


@_rule("linear-burn")
@inlined
def _linear_burn(cb: float, cs: float):
    return max(ZERO, cb + cs - ONE)


@_rule("linear-light")
@inlined
def _linear_light(cb: float, cs: float):
    return min(max(ZERO, cb + TWO * cs - ONE), ONE)


@_rule("inverse-difference")
@inlined
def _inverse_difference(cb: float, cs: float):
    return ONE - abs(ONE - cb - cs)
