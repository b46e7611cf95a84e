"""Where a pixel lies: coordinates, distance and angle. Gradients, fades and patterns are made of
them.
"""

import math
from typing import Any

import numpy as np

from kilncore.compiled.kernels import doubles, floats
from kilncore.compiled.operation import Address, operation

ZERO, ONE, TINY = np.float32(0), np.float32(1), np.float32(1e-30)
HALF_PI, PI = np.float32(math.pi / 2), np.float32(math.pi)
# Abramowitz and Stegun 1964, 4.4.49: arctan(t) / t for 0 <= t <= 1, within 2e-8
ARCTAN = tuple(
    map(
        np.float32,
        (
            -0.3333314528,
            0.1999355085,
            -0.1420889944,
            0.1065626393,
            -0.0752896400,
            0.0429096138,
            -0.0161657367,
            0.0028662257,
        ),
    )
)


@operation(memory="grid", positioned=True)
def grid(out: Address, descriptor: Any, x0: int, y: int, n: int):
    """a x + b y + c at the middles of pixels.

    descriptor : (the box's left, its top, and the address of a, b, c, float64). Worked out in
    float64 from the whole grid's own numbers, so that a pixel is the same in every box.
    """
    out, factors = floats(out), doubles(descriptor[2])
    a, first = factors[0], factors[1] * (descriptor[1] + y + 0.5) + factors[2]
    left = descriptor[0] + x0 + 0.5
    for x in range(n):
        out[x] = np.float32(a * (left + x) + first)


@operation(inputs=2)
def distance(out: Address, a: Address, b: Address, n: int):
    """The length of (a, b)."""
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = np.sqrt(a[x] * a[x] + b[x] * b[x])


@operation(inputs=2)
def angle(out: Address, a: Address, b: Address, n: int):
    """The angle of (a, b) from the positive a axis towards positive b, in -pi..pi; 0 of (0, 0)."""
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        u, v = abs(a[x]), abs(b[x])
        t = min(u, v) / max(max(u, v), TINY)
        s, total = t * t, ARCTAN[7]
        total = ARCTAN[6] + s * total
        total = ARCTAN[5] + s * total
        total = ARCTAN[4] + s * total
        total = ARCTAN[3] + s * total
        total = ARCTAN[2] + s * total
        total = ARCTAN[1] + s * total
        total = ARCTAN[0] + s * total
        turn = t + t * s * total
        turn = HALF_PI - turn if v > u else turn
        turn = PI - turn if a[x] < ZERO else turn
        out[x] = -turn if b[x] < ZERO else turn


@operation(inputs=1, numbers=2)
def repeat(out: Address, a: Address, period: float, offset: float, n: int):
    """The place of a + offset within its period, 0..period."""
    out, a = floats(out), floats(a)
    for x in range(n):
        at = a[x] + offset
        out[x] = at - np.floor(at / period) * period
