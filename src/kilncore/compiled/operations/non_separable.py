"""The colour, hue, saturation and luminosity modes: W3C Compositing and Blending Level 1, 10.2
(SetLum and SetSat).
"""

import numpy as np

from kilncore.compiled.kernels import floats
from kilncore.compiled.operation import Address, operation

ZERO, ONE, TINY = np.float32(0), np.float32(1), np.float32(1e-6)


@operation(inputs=3)
def stretch(out: Address, a: Address, low: Address, factor: Address, n: int):
    """(a - low) factor."""
    out, a, low, factor = floats(out), floats(a), floats(low), floats(factor)
    for x in range(n):
        out[x] = (a[x] - low[x]) * factor[x]


@operation(inputs=4)
def clip_scale(out: Address, low: Address, high: Address, lum: Address, shift: Address, n: int):
    """ClipColor's factor for a colour shifted to a luminosity, from the least and the most of its
    channels before.
    """
    out, low, high, lum, shift = floats(out), floats(low), floats(high), floats(lum), floats(shift)
    for x in range(n):
        level, bottom, top = lum[x], low[x] + shift[x], high[x] + shift[x]
        down = level / max(level - bottom, TINY) if bottom < ZERO else ONE
        up = (ONE - level) / max(top - level, TINY) if top > ONE else ONE
        out[x] = min(down, up)


@operation(inputs=4)
def clip_colour(out: Address, a: Address, lum: Address, shift: Address, scale: Address, n: int):
    """ClipColor of one channel."""
    out, a, lum, shift, scale = floats(out), floats(a), floats(lum), floats(shift), floats(scale)
    for x in range(n):
        out[x] = lum[x] + (a[x] + shift[x] - lum[x]) * scale[x]
