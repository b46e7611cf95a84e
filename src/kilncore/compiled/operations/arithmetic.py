"""Arithmetic, clamping, selecting and tables."""

from typing import Any

import numpy as np

from kilncore.compiled.kernels import floats
from kilncore.compiled.operation import Address, operation

ZERO, ONE = np.float32(0), np.float32(1)
TINY, FAINT = np.float32(1e-6), np.float32(1e-6)


@operation(numbers=1)
def fill(out: Address, value: float, n: int):
    """One value."""
    out = floats(out)
    for x in range(n):
        out[x] = value


@operation(inputs=1)
def copy(out: Address, a: Address, n: int):
    """a."""
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = a[x]


@operation(inputs=2)
def multiply(out: Address, a: Address, b: Address, n: int):
    """a b."""
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = a[x] * b[x]


@operation(inputs=2)
def add(out: Address, a: Address, b: Address, n: int):
    """a + b."""
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = a[x] + b[x]


@operation(inputs=2)
def subtract(out: Address, a: Address, b: Address, n: int):
    """a - b."""
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = a[x] - b[x]


@operation("min", inputs=2)
def minimum(out: Address, a: Address, b: Address, n: int):
    """The lesser of a and b."""
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = min(a[x], b[x])


@operation("max", inputs=2)
def maximum(out: Address, a: Address, b: Address, n: int):
    """The greater of a and b."""
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = max(a[x], b[x])


@operation("abs", inputs=1)
def absolute(out: Address, a: Address, n: int):
    """a without its sign."""
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = abs(a[x])


@operation(inputs=1, numbers=2)
def affine(out: Address, a: Address, slope: float, offset: float, n: int):
    """slope a + offset."""
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = slope * a[x] + offset


@operation(inputs=1, numbers=2)
def clamp(out: Address, a: Address, slope: float, offset: float, n: int):
    """slope a + offset, clamped to 0..1."""
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = min(max(ZERO, slope * a[x] + offset), ONE)


@operation(inputs=2)
def clamp_to(out: Address, a: Address, most: Address, n: int):
    """a, clamped to 0..most."""
    out, a, most = floats(out), floats(a), floats(most)
    for x in range(n):
        out[x] = min(max(ZERO, a[x]), most[x])


@operation(inputs=1, numbers=2)
def levels(out: Address, a: Address, black: float, slope: float, n: int):
    """(a - black) slope, clamped to 0..1."""
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = min(max(ZERO, (a[x] - black) * slope), ONE)


@operation(inputs=1, numbers=1)
def power(out: Address, a: Address, exponent: float, n: int):
    """a to a power."""
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = a[x] ** exponent


@operation(inputs=1)
def root(out: Address, a: Address, n: int):
    """The square root of a, of 0 where a is negative."""
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = np.sqrt(max(ZERO, a[x]))


@operation(inputs=3, numbers=3)
def weighted(
    out: Address, a: Address, b: Address, c: Address, ka: float, kb: float, kc: float, n: int
):
    """ka a + kb b + kc c."""
    out, a, b, c = floats(out), floats(a), floats(b), floats(c)
    for x in range(n):
        out[x] = ka * a[x] + kb * b[x] + kc * c[x]


@operation(inputs=3, numbers=3)
def colour_distance(
    out: Address, a: Address, b: Address, c: Address, ka: float, kb: float, kc: float, n: int
):
    """How far a colour lies from another: the mean of the distances of three channels."""
    out, a, b, c = floats(out), floats(a), floats(b), floats(c)
    third = np.float32(1 / 3)
    for x in range(n):
        out[x] = (abs(a[x] - ka) + abs(b[x] - kb) + abs(c[x] - kc)) * third


@operation(inputs=3)
def lerp(out: Address, a: Address, b: Address, w: Address, n: int):
    """From a (w = 0) to b (w = 1), exactly either at both ends, clamped to 0..1."""
    out, a, b, w = floats(out), floats(a), floats(b), floats(w)
    for x in range(n):
        out[x] = min(max(ZERO, w[x] * b[x] + (ONE - w[x]) * a[x]), ONE)


@operation(inputs=2)
def over_alpha(out: Address, a: Address, w: Address, n: int):
    """The alpha of w over a."""
    out, a, w = floats(out), floats(a), floats(w)
    for x in range(n):
        out[x] = min(max(ZERO, w[x] + a[x] * (ONE - w[x])), ONE)


@operation(inputs=2, numbers=2)
def mix(out: Address, a: Address, b: Address, of_a: float, of_b: float, n: int):
    """of_a a + of_b b, clamped to 0..1."""
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = min(max(ZERO, of_b * b[x] + of_a * a[x]), ONE)


@operation(inputs=4)
def multiply_add(out: Address, a: Address, b: Address, w: Address, most: Address, n: int):
    """a + w b, clamped to 0..most."""
    out, a, b, w, most = floats(out), floats(a), floats(b), floats(w), floats(most)
    for x in range(n):
        out[x] = min(max(ZERO, a[x] + w[x] * b[x]), most[x])


@operation(inputs=1)
def inverse(out: Address, a: Address, n: int):
    """1 / a, and 0 where next to nothing is there."""
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = ONE / max(a[x], FAINT) if a[x] > FAINT else ZERO


@operation(inputs=2)
def ratio(out: Address, a: Address, b: Address, n: int):
    """a / b, with b never less than 1e-6."""
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = a[x] / max(b[x], TINY)


@operation(inputs=4)
def select(out: Address, value: Address, limit: Address, a: Address, b: Address, n: int):
    """a where `value` is not above `limit`, elsewhere b."""
    out, value, limit, a, b = floats(out), floats(value), floats(limit), floats(a), floats(b)
    for x in range(n):
        out[x] = a[x] if value[x] <= limit[x] else b[x]


@operation(inputs=1, numbers=1, memory="table")
def lut(out: Address, a: Address, descriptor: Any, steps: float, n: int):
    """A curve read from a table of `steps` + 2 float32 entries over 0..1, with straight lines
    between them.

    descriptor : (address of the table).
    """
    out, a, table = floats(out), floats(a), floats(descriptor[0])
    for x in range(n):
        at = min(max(ZERO, a[x]), ONE) * steps
        i = np.int32(at)
        out[x] = table[i] + (at - np.float32(i)) * (table[i + 1] - table[i])
