"""Separable convolution with symmetric weights, a row at a time."""

from typing import Any

import numpy as np

from kilncore.compiled.kernels import floats, kernel, subroutine
from kilncore.compiled.operations.arithmetic import copy, fill
from kilncore.compiled.operations.flow import blank

# A sum over neighbours is the same across and down: only how far one lies from the next differs.


@subroutine
def _begun(out: Any, middle: Any, step: int, weights: np.ndarray, n: int):
    """The middle, and its neighbours at one distance to either side, `step` bytes away."""
    a, m, b, out = floats(middle - step), floats(middle), floats(middle + step), floats(out)
    w0, w1 = weights[0], weights[1]
    for x in range(n):
        out[x] = w0 * m[x] + w1 * (a[x] + b[x])


@subroutine
def _begun_two(out: Any, middle: Any, step: int, weights: np.ndarray, n: int):
    a, b, c, m = (
        floats(middle - 2 * step),
        floats(middle - step),
        floats(middle + step),
        floats(middle),
    )
    d, out = floats(middle + 2 * step), floats(out)
    w0, w1, w2 = weights[0], weights[1], weights[2]
    for x in range(n):
        out[x] = w0 * m[x] + w1 * (b[x] + c[x]) + w2 * (a[x] + d[x])


@subroutine
def _begun_three(out: Any, middle: Any, step: int, weights: np.ndarray, n: int):
    """At three distances: the less often a sum is read and written again, the better."""
    a, b, c, m = (
        floats(middle - 3 * step),
        floats(middle - 2 * step),
        floats(middle - step),
        floats(middle),
    )
    d, e, f, out = (
        floats(middle + step),
        floats(middle + 2 * step),
        floats(middle + 3 * step),
        floats(out),
    )
    w0, w1, w2, w3 = weights[0], weights[1], weights[2], weights[3]
    for x in range(n):
        out[x] = w0 * m[x] + w1 * (c[x] + d[x]) + w2 * (b[x] + e[x]) + w3 * (a[x] + f[x])


@subroutine
def _added(out: Any, middle: float, far: float, weight: float, n: int):
    a, b, out = floats(middle - far), floats(middle + far), floats(out)
    for x in range(n):
        out[x] += weight * (a[x] + b[x])


@subroutine
def _three_added(
    out: Any, middle: float, far: float, step: int, weights: np.ndarray, k: int, n: int
):
    """Three distances, from k on, `far` bytes away."""
    a, b, c = floats(middle - far - 2 * step), floats(middle - far - step), floats(middle - far)
    d, e, f, out = (
        floats(middle + far),
        floats(middle + far + step),
        floats(middle + far + 2 * step),
        floats(out),
    )
    w1, w2, w3 = weights[k], weights[k + 1], weights[k + 2]
    for x in range(n):
        out[x] += w1 * (c[x] + d[x]) + w2 * (b[x] + e[x]) + w3 * (a[x] + f[x])


@subroutine
def _summed(out: float, middle: float, step: int, weights: np.ndarray, n: int):
    """A row of sums, from the address of the row in the middle. weights : of the middle and of one
    side, two or more.
    """
    reach = weights.size - 1
    if reach >= 3:
        _begun_three(out, middle, step, weights, n)
    elif reach == 2:
        _begun_two(out, middle, step, weights, n)
    else:
        _begun(out, middle, step, weights, n)
    k = min(reach, 3) + 1
    while k <= reach:
        if k + 2 <= reach:
            _three_added(out, middle, k * step, step, weights, k, n)
            k += 3
        else:
            _added(out, middle, k * step, weights[k], n)
            k += 1


@kernel
def convolved(planes: np.ndarray, across: np.ndarray, down: np.ndarray):
    """(C, H, W) float32 convolved with symmetric weights; the border that they reach into is used
    up.

    across, down : (R + 1,) float32, the weights of the middle and of one side. Down and then
    across, a row at a time; rows that read nothing but nothing are nothing.
    """
    channels, height, width = planes.shape
    rx, ry = across.size - 1, down.size - 1
    row_bytes, wide = 4 * width, width - 2 * rx
    out = np.empty((channels, height - 2 * ry, wide), np.float32)
    line = np.empty(width, np.float32)
    there = np.empty(height, np.int64)
    for c in range(channels):
        for y in range(height):
            there[y] = not blank(planes[c, y].ctypes.data, width)
        for y in range(height - 2 * ry):
            target = out[c, y].ctypes.data
            if not there[y : y + 2 * ry + 1].any():
                fill(target, np.float32(0), wide)
                continue
            source = planes[c, y + ry].ctypes.data
            if ry:
                _summed(line.ctypes.data, source, row_bytes, down, width)
                source = line.ctypes.data
            if rx:
                _summed(target, source + 4 * rx, 4, across, wide)
            else:
                copy(target, source, wide)
    return out
