"""Blend ranges: trapezoids over tones, of a pixel's own tone or of all the tones that a smaller
picture's pixel stands for.
"""

from typing import Any

import numpy as np

from kilncore.compiled.kernels import floats, subroutine
from kilncore.compiled.operation import Address, operation

ZERO, HALF, ONE = np.float32(0), np.float32(0.5), np.float32(1)
TINY, LEAST_SPREAD, LEAST_WIDTH = np.float32(1e-6), np.float32(1e-3), np.float32(1e-3)
FAR = np.float32(3.6)  # spreads: beyond them a ramp is all of one side
# z Phi(z) + phi(z) - z / 2 of the normal distribution, as a polynomial of (z / FAR)^2, within 1e-6
# (least squares, our own)
EXCESS = tuple(
    map(
        np.float32,
        (
            0.39894309,
            2.58500922,
            -2.78813676,
            3.57667976,
            -3.95390129,
            3.46173613,
            -2.18482461,
            0.85955011,
            -0.15501715,
        ),
    )
)


@operation(inputs=1, numbers=4)
def trapezoid(
    out: Address,
    a: Address,
    hidden_below: float,
    shown_from: float,
    shown_to: float,
    hidden_above: float,
    n: int,
):
    """0 up to the first point and from the last on, 1 between the middle two, straight in between.
    Equal points step.
    """
    out, a = floats(out), floats(a)
    rise: Any = shown_from - hidden_below
    fall: Any = hidden_above - shown_to
    up, down = ONE / max(rise, TINY), ONE / max(fall, TINY)
    for x in range(n):
        v = a[x]
        rise, fall = (
            min(max(ZERO, (v - hidden_below) * up), ONE),
            min(max(ZERO, (hidden_above - v) * down), ONE),
        )
        out[x] = (ONE if v >= shown_from else rise) * (ONE if v <= shown_to else fall)


@subroutine
def _mean_above(z: float):
    """The mean of max(v + z, 0) of a normal v of mean 0 and spread 1."""
    u = min(z * z / (FAR * FAR), ONE)
    total = EXCESS[8]
    total = EXCESS[7] + u * total
    total = EXCESS[6] + u * total
    total = EXCESS[5] + u * total
    total = EXCESS[4] + u * total
    total = EXCESS[3] + u * total
    total = EXCESS[2] + u * total
    total = EXCESS[1] + u * total
    total = EXCESS[0] + u * total
    return HALF * z + (HALF * abs(z) if u >= ONE else total)


@subroutine
def _mean_rise(mean: float, spread: float, low: float, high: float):
    """The mean of a ramp from `low` to `high` over normal tones."""
    width = max(high - low, max(LEAST_WIDTH, LEAST_WIDTH * HALF + spread * np.float32(0.02)))
    start = HALF * (low + high - width)
    inverse = ONE / max(spread, LEAST_SPREAD)
    above = _mean_above((mean - start) * inverse) - _mean_above((mean - start - width) * inverse)
    return min(max(ZERO, above * spread / width), ONE)


@operation(inputs=2, numbers=4)
def trapezoid_mean(
    out: Address,
    a: Address,
    variance: Address,
    hidden_below: float,
    shown_from: float,
    shown_to: float,
    hidden_above: float,
    n: int,
):
    """The mean of the trapezoid over tones of mean `a` and of that variance, taken as normal. Where
    they hardly vary it is the trapezoid itself."""
    out, a, variance = floats(out), floats(a), floats(variance)
    rise: Any = shown_from - hidden_below
    fall: Any = hidden_above - shown_to
    up, down = ONE / max(rise, TINY), ONE / max(fall, TINY)
    for x in range(n):
        v, spread = a[x], np.sqrt(max(variance[x], ZERO))
        rise, fall = (
            min(max(ZERO, (v - hidden_below) * up), ONE),
            min(max(ZERO, (hidden_above - v) * down), ONE),
        )
        rise, fall = ONE if v >= shown_from else rise, ONE if v <= shown_to else fall
        if spread > LEAST_SPREAD:
            rise = ONE if shown_from <= ZERO else _mean_rise(v, spread, hidden_below, shown_from)
            fall = ONE if shown_to >= ONE else ONE - _mean_rise(v, spread, shown_to, hidden_above)
            out[x] = max(ZERO, rise + fall - ONE)
        else:
            out[x] = rise * fall


@subroutine
def _share_above(z: float):
    """The share of a normal v of mean 0 and spread 1 that lies above -z: the slope of
    `_mean_above`.
    """
    u = z * z / (FAR * FAR)
    if u >= ONE:
        return ONE if z > ZERO else ZERO
    total = np.float32(8) * EXCESS[8]
    total = np.float32(7) * EXCESS[7] + u * total
    total = np.float32(6) * EXCESS[6] + u * total
    total = np.float32(5) * EXCESS[5] + u * total
    total = np.float32(4) * EXCESS[4] + u * total
    total = np.float32(3) * EXCESS[3] + u * total
    total = np.float32(2) * EXCESS[2] + u * total
    total = EXCESS[1] + u * total
    return min(max(ZERO, HALF + np.float32(2) * z / (FAR * FAR) * total), ONE)


@subroutine
def _mean_slope(mean: float, spread: float, low: float, high: float):
    """The mean slope of a ramp from `low` to `high` over normal tones."""
    width = max(high - low, max(LEAST_WIDTH, LEAST_WIDTH * HALF + spread * np.float32(0.02)))
    start = HALF * (low + high - width)
    inverse = ONE / max(spread, LEAST_SPREAD)
    return (
        _share_above((mean - start) * inverse) - _share_above((mean - start - width) * inverse)
    ) / width


@operation(inputs=2, numbers=4)
def trapezoid_slope(
    out: Address,
    a: Address,
    variance: Address,
    hidden_below: float,
    shown_from: float,
    shown_to: float,
    hidden_above: float,
    n: int,
):
    """The mean slope of the trapezoid over tones of mean `a` and of that variance: by Stein's lemma
    (1981) it is what tones and their ranges have in common, over the variance. 0 where they hardly
    vary."""
    out, a, variance = floats(out), floats(a), floats(variance)
    for x in range(n):
        v, spread = a[x], np.sqrt(max(variance[x], ZERO))
        if spread > LEAST_SPREAD:
            rise = ZERO if shown_from <= ZERO else _mean_slope(v, spread, hidden_below, shown_from)
            fall = ZERO if shown_to >= ONE else _mean_slope(v, spread, shown_to, hidden_above)
            out[x] = rise - fall
        else:
            out[x] = ZERO
