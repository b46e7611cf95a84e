"""What a tape can do with rows: each a loop over `n` pixels of float32 rows, given by their addresses.

A result never lies where an input does, or the loop would not be vectorised; those that change a row in place read and
write the same index. The flags of `kernels.FASTMATH` keep a pixel the same wherever the loop begins. Whatever is cut to
bounds is the lower one where a value is not a number.
"""

import numpy as np

from kilncore.kernels import floats, part

ZERO, ONE = np.float32(0), np.float32(1)
TINY, FAINT = np.float32(1e-6), np.float32(1e-6)


@part
def fill(out, value, n):
    out = floats(out)
    for x in range(n):
        out[x] = value


@part
def copy(out, a, n):
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = a[x]


@part
def blank(a, n):
    """Whether a row is 0 all over."""
    a = floats(a)
    there = 0
    for x in range(n):
        there += a[x] != ZERO
    return there == 0


@part
def multiply(out, a, b, n):
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = a[x] * b[x]


@part
def add(out, a, b, n):
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = a[x] + b[x]


@part
def subtract(out, a, b, n):
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = a[x] - b[x]


@part
def least(out, a, b, n):
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = min(a[x], b[x])


@part
def most(out, a, b, n):
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = max(a[x], b[x])


@part
def affine(out, a, slope, offset, n):
    """slope a + offset."""
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = slope * a[x] + offset


@part
def held(out, a, slope, offset, n):
    """slope a + offset, cut to 0..1."""
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = min(max(ZERO, slope * a[x] + offset), ONE)


@part
def clamp(out, a, most, n):
    """a, cut to 0..most."""
    out, a, most = floats(out), floats(a), floats(most)
    for x in range(n):
        out[x] = min(max(ZERO, a[x]), most[x])


@part
def levels(out, a, black, slope, n):
    """(a - black) slope, cut to 0..1."""
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = min(max(ZERO, (a[x] - black) * slope), ONE)


@part
def power(out, a, exponent, n):
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = a[x] ** exponent


@part
def weighted(out, a, b, c, ka, kb, kc, n):
    out, a, b, c = floats(out), floats(a), floats(b), floats(c)
    for x in range(n):
        out[x] = ka * a[x] + kb * b[x] + kc * c[x]


@part
def away(out, a, b, c, ka, kb, kc, n):
    """How far a colour lies from another: the mean of three distances."""
    out, a, b, c = floats(out), floats(a), floats(b), floats(c)
    third = np.float32(1 / 3)
    for x in range(n):
        out[x] = (abs(a[x] - ka) + abs(b[x] - kb) + abs(c[x] - kc)) * third


@part
def trapezoid(out, a, hidden_below, shown_from, shown_to, hidden_above, n):
    """0 up to the first point and from the last on, 1 between the middle two, straight in between. Equal points step."""
    out, a = floats(out), floats(a)
    up, down = ONE / max(shown_from - hidden_below, TINY), ONE / max(hidden_above - shown_to, TINY)
    for x in range(n):
        v = a[x]
        rise, fall = min(max(ZERO, (v - hidden_below) * up), ONE), min(max(ZERO, (hidden_above - v) * down), ONE)
        out[x] = (ONE if v >= shown_from else rise) * (ONE if v <= shown_to else fall)


@part
def between(out, a, b, w, n):
    """From a (w = 0) to b (w = 1), exactly either at both ends, cut to 0..1."""
    out, a, b, w = floats(out), floats(a), floats(b), floats(w)
    for x in range(n):
        out[x] = min(max(ZERO, w[x] * b[x] + (ONE - w[x]) * a[x]), ONE)


@part
def united(out, a, w, n):
    """The alpha of w over a."""
    out, a, w = floats(out), floats(a), floats(w)
    for x in range(n):
        out[x] = min(max(ZERO, w[x] + a[x] * (ONE - w[x])), ONE)


@part
def shared(out, a, b, of_a, of_b, n):
    """of_a a + of_b b, cut to 0..1."""
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = min(max(ZERO, of_b * b[x] + of_a * a[x]), ONE)


@part
def added(out, a, b, w, most, n):
    """a + w b, cut to 0..most."""
    out, a, b, w, most = floats(out), floats(a), floats(b), floats(w), floats(most)
    for x in range(n):
        out[x] = min(max(ZERO, a[x] + w[x] * b[x]), most[x])


@part
def inverse(out, a, n):
    """1 / a, and 0 where next to nothing is there."""
    out, a = floats(out), floats(a)
    for x in range(n):
        out[x] = ONE / max(a[x], FAINT) if a[x] > FAINT else ZERO


@part
def chosen(out, at_most, limit, a, b, n):
    """a where `at_most` is not above `limit`, elsewhere b."""
    out, at_most, limit, a, b = floats(out), floats(at_most), floats(limit), floats(a), floats(b)
    for x in range(n):
        out[x] = a[x] if at_most[x] <= limit[x] else b[x]


@part
def looked_up(out, a, table, steps, n):
    """A curve read from a table of `steps` + 2 entries over 0..1, with straight lines between them."""
    out, a, table = floats(out), floats(a), floats(table)
    for x in range(n):
        at = min(max(ZERO, a[x]), ONE) * steps
        i = np.int32(at)
        out[x] = table[i] + (at - np.float32(i)) * (table[i + 1] - table[i])


# --- the colour, hue, saturation and luminosity modes (W3C Compositing and Blending Level 1, SetLum and SetSat) ---


@part
def ratio(out, a, b, n):
    out, a, b = floats(out), floats(a), floats(b)
    for x in range(n):
        out[x] = a[x] / max(b[x], TINY)


@part
def stretched(out, a, low, factor, n):
    out, a, low, factor = floats(out), floats(a), floats(low), floats(factor)
    for x in range(n):
        out[x] = (a[x] - low[x]) * factor[x]


@part
def clip_scale(out, low, high, lum, shift, n):
    """ClipColor's factor for a colour shifted to a luminosity, from the least and the most of its channels before."""
    out, low, high, lum, shift = floats(out), floats(low), floats(high), floats(lum), floats(shift)
    for x in range(n):
        level, bottom, top = lum[x], low[x] + shift[x], high[x] + shift[x]
        down = level / max(level - bottom, TINY) if bottom < ZERO else ONE
        up = (ONE - level) / max(top - level, TINY) if top > ONE else ONE
        out[x] = min(down, up)


@part
def clipped(out, a, lum, shift, scale, n):
    out, a, lum, shift, scale = floats(out), floats(a), floats(lum), floats(shift), floats(scale)
    for x in range(n):
        out[x] = lum[x] + (a[x] + shift[x] - lum[x]) * scale[x]
