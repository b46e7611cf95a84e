"""Rows from memory and back. `place` is a row of the tape's table of places, described with each part.

x0, y : where the stretch of `n` pixels begins within the tape's box.
"""

import numpy as np

from kilncore.kernels import bytes8, bytes16, floats, part

ZERO, ONE, FULL, HALF, FAINT = (np.float32(n) for n in (0, 1, 255, 0.5, 1e-6))


@part
def load(out, place, x0, y, n):
    """float32 values that cover part of the box: (address, bytes in a row, left, top, right, bottom); the rest is left."""
    if y < place[3] or y >= place[5]:
        return
    first, last = max(x0, place[2]), min(x0 + n, place[4])
    out = floats(out)
    row = floats(place[0] + (y - place[3]) * place[1] + 4 * (first - place[2]))
    to = first - x0
    for x in range(last - first):
        out[to + x] = row[x]


@part
def _within(n, size):
    return n if n < size else n % size  # a division costs as much as dozens of pixels


@part
def _repeated(out, values, place, x0, y, n, unit):
    wide, done = place[2], 0
    row = _within(place[5] + y, place[3]) * place[1]
    while done < n:
        column = _within(place[4] + x0 + done, wide)
        run, first = min(n - done, wide - column), row + column
        for x in range(run):
            out[done + x] = np.float32(values[first + x]) * unit
        done += run


@part
def repeated8(out, place, x0, y, n, unit):
    """8-bit values that repeat: (address, values in a row, width, height, first column, first row)."""
    _repeated(floats(out), bytes8(place[0]), place, x0, y, n, unit)


@part
def repeated16(out, place, x0, y, n, unit):
    """The same of 16 bits."""
    _repeated(floats(out), bytes16(place[0]), place, x0, y, n, unit)


@part
def store(a, place, x0, y, n):
    """(address, bytes in a row) of float32."""
    a, row = floats(a), floats(place[0] + y * place[1] + 4 * x0)
    for x in range(n):
        row[x] = a[x]


@part
def _byte(value):
    return np.uint8(min(max(ZERO, value), FULL) + HALF)


@part
def store_rgb(r, g, b, place, x0, y, n):
    """(address, bytes in a row) of rounded bytes."""
    r, g, b, row = floats(r), floats(g), floats(b), bytes8(place[0] + y * place[1] + 3 * x0)
    for x in range(n):
        row[3 * x] = _byte(r[x] * FULL)
        row[3 * x + 1] = _byte(g[x] * FULL)
        row[3 * x + 2] = _byte(b[x] * FULL)


@part
def store_rgba(r, g, b, a, place, x0, y, n):
    """The same with alpha; straight, with no colour where next to nothing is there."""
    r, g, b, a, row = floats(r), floats(g), floats(b), floats(a), bytes8(place[0] + y * place[1] + 4 * x0)
    for x in range(n):
        there = FULL if a[x] > FAINT else ZERO
        row[4 * x] = _byte(r[x] * there)
        row[4 * x + 1] = _byte(g[x] * there)
        row[4 * x + 2] = _byte(b[x] * there)
        row[4 * x + 3] = _byte(a[x] * FULL)
