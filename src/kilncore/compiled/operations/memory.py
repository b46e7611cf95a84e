"""Registers from memory and back. Each says what its descriptor holds."""

from typing import Any

import numpy as np

from kilncore.compiled.kernels import bytes8, bytes16, floats, shorts, subroutine
from kilncore.compiled.operation import Address, operation

ZERO, ONE, FULL, HALF, FAINT = (np.float32(n) for n in (0, 1, 255, 0.5, 1e-6))


@operation(memory="array", positioned=True)
def load(out: Address, descriptor: Any, x0: int, y: int, n: int):
    """float32 values that cover part of the box: (address, bytes in a row, left, top, right,
    bottom); the rest is left.
    """
    if y < descriptor[3] or y >= descriptor[5]:
        return
    first, last = max(x0, descriptor[2]), min(x0 + n, descriptor[4])
    out = floats(out)
    row = floats(descriptor[0] + (y - descriptor[3]) * descriptor[1] + 4 * (first - descriptor[2]))
    to = first - x0
    for x in range(last - first):
        out[to + x] = row[x]


@subroutine
def _loaded(
    out: np.ndarray,
    values: np.ndarray,
    descriptor: np.ndarray,
    x0: int,
    y: int,
    unit: float,
    n: int,
):
    if y < descriptor[3] or y >= descriptor[5]:
        return
    first, last = max(x0, descriptor[2]), min(x0 + n, descriptor[4])
    row, to = (y - descriptor[3]) * descriptor[1] + first - descriptor[2], first - x0
    for x in range(last - first):
        out[to + x] = np.float32(values[row + x]) * unit


@operation(numbers=1, memory="array", positioned=True)
def load_int16(out: int, descriptor: Any, x0: int, y: int, unit: float, n: int):
    """The same of int16, times `unit`: (address, values in a row, left, top, right, bottom)."""
    _loaded(floats(out), shorts(descriptor[0]), descriptor, x0, y, unit, n)


@operation(numbers=1, memory="array", positioned=True)
def load_uint16(out: int, descriptor: Any, x0: int, y: int, unit: float, n: int):
    """The same of uint16."""
    _loaded(floats(out), bytes16(descriptor[0]), descriptor, x0, y, unit, n)


@operation(numbers=1, memory="array", positioned=True)
def load_uint8(out: int, descriptor: Any, x0: int, y: int, unit: float, n: int):
    """The same of uint8."""
    _loaded(floats(out), bytes8(descriptor[0]), descriptor, x0, y, unit, n)


@subroutine
def _within(n: int, size: int):
    return n if n < size else n % size  # a division costs as much as dozens of pixels


@subroutine
def _repeated(
    out: np.ndarray,
    values: np.ndarray,
    descriptor: np.ndarray,
    x0: int,
    y: int,
    n: int,
    unit: float,
):
    wide, done = descriptor[2], 0
    row = _within(descriptor[5] + y, descriptor[3]) * descriptor[1]
    while done < n:
        column = _within(descriptor[4] + x0 + done, wide)
        run, first = min(n - done, wide - column), row + column
        for x in range(run):
            out[done + x] = np.float32(values[first + x]) * unit
        done += run


@operation(numbers=1, memory="array", positioned=True)
def repeat_uint8(out: int, descriptor: Any, x0: int, y: int, unit: float, n: int):
    """8-bit values that repeat: (address, values in a row, width, height, first column, first
    row).
    """
    _repeated(floats(out), bytes8(descriptor[0]), descriptor, x0, y, n, unit)


@operation(numbers=1, memory="array", positioned=True)
def repeat_uint16(out: int, descriptor: Any, x0: int, y: int, unit: float, n: int):
    """The same of 16 bits."""
    _repeated(floats(out), bytes16(descriptor[0]), descriptor, x0, y, n, unit)


@operation(inputs=1, memory="array", positioned=True, makes=False)
def store(a: Address, descriptor: Any, x0: int, y: int, n: int):
    """(address, bytes in a row) of float32."""
    a, row = floats(a), floats(descriptor[0] + y * descriptor[1] + 4 * x0)
    for x in range(n):
        row[x] = a[x]


@subroutine
def _byte(value: float):
    return np.uint8(min(max(ZERO, value), FULL) + HALF)


@operation(inputs=3, memory="array", positioned=True, makes=False)
def store_rgb(r: Address, g: Address, b: Address, descriptor: Any, x0: int, y: int, n: int):
    """(address, bytes in a row) of rounded bytes."""
    r, g, b, row = (
        floats(r),
        floats(g),
        floats(b),
        bytes8(descriptor[0] + y * descriptor[1] + 3 * x0),
    )
    for x in range(n):
        row[3 * x] = _byte(r[x] * FULL)
        row[3 * x + 1] = _byte(g[x] * FULL)
        row[3 * x + 2] = _byte(b[x] * FULL)


@operation(inputs=4, memory="array", positioned=True, makes=False)
def store_rgba(
    r: Address, g: Address, b: Address, a: Address, descriptor: Any, x0: int, y: int, n: int
):
    """The same with alpha; straight, with no colour where next to nothing is there."""
    r, g, b, a, row = (
        floats(r),
        floats(g),
        floats(b),
        floats(a),
        bytes8(descriptor[0] + y * descriptor[1] + 4 * x0),
    )
    for x in range(n):
        there = FULL if a[x] > FAINT else ZERO
        row[4 * x] = _byte(r[x] * there)
        row[4 * x + 1] = _byte(g[x] * there)
        row[4 * x + 2] = _byte(b[x] * there)
        row[4 * x + 3] = _byte(a[x] * FULL)
