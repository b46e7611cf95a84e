"""Reading a texture that is turned: a place is read with its neighbours, or, where the texture is
made smaller, as the mean of several places within a pixel.
"""

import numpy as np

from kilncore.compiled.kernels import kernel, subroutine
from kilncore.sampling import cubic_weights
from kilncore.textures.resample import covered, folded, weighted


@kernel
def turned(
    planes: np.ndarray,
    u0: float,
    v0: float,
    ux: float,
    vx: float,
    uy: float,
    vy: float,
    left: int,
    top: int,
    width: int,
    height: int,
    edges: np.ndarray,
    unit: float,
):
    """(C + 1, height, width): the planes by cubic convolution, and how much of each pixel lies on
    the texture.

    u0, v0 : texture indices of the middle of output pixel (0, 0); (ux, vx), (uy, vy) : the way to
    the next one across and down.
    """
    channels, tall, wide = planes.shape
    out = np.zeros((channels + 1, height, width), np.float32)
    wx, wy, columns, rows = (
        np.empty(4, np.float32),
        np.empty(4, np.float32),
        np.empty(4, np.int64),
        np.empty(4, np.int64),
    )
    for y in range(height):
        for x in range(width):
            u, v = u0 + ux * (x + left) + uy * (y + top), v0 + vx * (x + left) + vy * (y + top)
            i, j = int(np.floor(u)), int(np.floor(v))
            a0, a1, a2, a3 = cubic_weights(np.float32(u - i))
            b0, b1, b2, b3 = cubic_weights(np.float32(v - j))
            if i >= 1 and j >= 1 and i + 2 < wide and j + 2 < tall:
                out[channels, y, x] = np.float32(1)
                for c in range(channels):
                    p = planes[c]
                    r0 = (
                        a0 * p[j - 1, i - 1]
                        + a1 * p[j - 1, i]
                        + a2 * p[j - 1, i + 1]
                        + a3 * p[j - 1, i + 2]
                    )
                    r1 = a0 * p[j, i - 1] + a1 * p[j, i] + a2 * p[j, i + 1] + a3 * p[j, i + 2]
                    r2 = (
                        a0 * p[j + 1, i - 1]
                        + a1 * p[j + 1, i]
                        + a2 * p[j + 1, i + 1]
                        + a3 * p[j + 1, i + 2]
                    )
                    r3 = (
                        a0 * p[j + 2, i - 1]
                        + a1 * p[j + 2, i]
                        + a2 * p[j + 2, i + 1]
                        + a3 * p[j + 2, i + 2]
                    )
                    out[c, y, x] = np.float32(b0 * r0 + b1 * r1 + b2 * r2 + b3 * r3) * unit
            else:
                wx[0], wx[1], wx[2], wx[3], wy[0], wy[1], wy[2], wy[3] = (
                    a0,
                    a1,
                    a2,
                    a3,
                    b0,
                    b1,
                    b2,
                    b3,
                )
                for n in range(4):
                    columns[n], rows[n] = (
                        folded(i + n - 1, wide, edges),
                        folded(j + n - 1, tall, edges),
                    )
                for c in range(channels):
                    out[c, y, x] = unit * weighted(planes, c, rows, columns, wy, wx, 4)
                out[channels, y, x] = covered(rows, columns, wy, wx, 4)
        _held(out, y)
    return out


@kernel
def turned_mean(
    planes: np.ndarray,
    u0: float,
    v0: float,
    ux: float,
    vx: float,
    uy: float,
    vy: float,
    left: int,
    top: int,
    width: int,
    height: int,
    edges: np.ndarray,
    places: int,
    unit: float,
):
    """The same for a texture made smaller: the mean of places x places within a pixel, each between
    four neighbours.
    """
    channels, tall, wide = planes.shape
    out = np.zeros((channels + 1, height, width), np.float32)
    share = np.float32(1 / (places * places))
    across, down = np.empty(width, np.float32), np.empty(width, np.float32)
    left_of, above = np.empty(width, np.int64), np.empty(width, np.int64)
    for y in range(height):
        for place in range(places * places):
            px, py = (
                (place % places + 0.5) / places - 0.5 + left,
                (place // places + 0.5) / places - 0.5 + top,
            )
            for x in range(width):
                u, v = u0 + ux * (x + px) + uy * (y + py), v0 + vx * (x + px) + vy * (y + py)
                i, j = np.floor(u), np.floor(v)
                across[x], down[x] = np.float32(u - i), np.float32(v - j)
                left_of[x], above[x] = int(i), int(j)
            # places lie on a line: if both ends are inside, all are
            inside = True
            for x in (0, width - 1):
                inside &= left_of[x] >= 0 and left_of[x] + 1 < wide
                inside &= above[x] >= 0 and above[x] + 1 < tall
            if inside:
                _add_inside(planes, left_of, above, across, down, share, unit, out, y)
            else:
                _add_folded(planes, left_of, above, across, down, edges, share, unit, out, y)
        _held(out, y)
    return out


@subroutine
def _add_inside(
    planes: np.ndarray,
    left_of: np.ndarray,
    above: np.ndarray,
    across: np.ndarray,
    down: np.ndarray,
    share: float,
    unit: float,
    out: np.ndarray,
    y: int,
):
    """One place of each pixel of a row, between four neighbours that lie on the texture. An index
    that cannot be negative is not looked at twice.
    """
    channels, width = planes.shape[0], len(across)
    for x in range(width):
        out[channels, y, x] += share
    if channels == 1:
        p = planes[0]
        for x in range(width):
            i, j, s, t = np.uintp(left_of[x]), np.uintp(above[x]), across[x], down[x]
            right, below = i + np.uintp(1), j + np.uintp(1)
            r0 = p[j, i] + s * (np.float32(p[j, right]) - np.float32(p[j, i]))
            r1 = p[below, i] + s * (np.float32(p[below, right]) - np.float32(p[below, i]))
            out[0, y, x] += share * unit * np.float32(r0 + t * (r1 - r0))
        return
    for x in range(width):
        i, j, s, t = np.uintp(left_of[x]), np.uintp(above[x]), across[x], down[x]
        right, below = i + np.uintp(1), j + np.uintp(1)
        for c in range(channels):
            p = planes[c]
            r0 = p[j, i] + s * (np.float32(p[j, right]) - np.float32(p[j, i]))
            r1 = p[below, i] + s * (np.float32(p[below, right]) - np.float32(p[below, i]))
            out[c, y, x] += share * unit * np.float32(r0 + t * (r1 - r0))


@subroutine
def _add_folded(
    planes: np.ndarray,
    left_of: np.ndarray,
    above: np.ndarray,
    across: np.ndarray,
    down: np.ndarray,
    edges: int,
    share: float,
    unit: float,
    out: np.ndarray,
    y: int,
):
    """The same where some of them lie beyond it."""
    channels, tall, wide = planes.shape
    wx, wy, columns, rows = (
        np.empty(2, np.float32),
        np.empty(2, np.float32),
        np.empty(2, np.int64),
        np.empty(2, np.int64),
    )
    for x in range(len(across)):
        i, j, s, t = left_of[x], above[x], across[x], down[x]
        if i >= 0 and j >= 0 and i + 1 < wide and j + 1 < tall:
            out[channels, y, x] += share
            for c in range(channels):
                p = planes[c]
                r0 = p[j, i] + s * (np.float32(p[j, i + 1]) - np.float32(p[j, i]))
                r1 = p[j + 1, i] + s * (np.float32(p[j + 1, i + 1]) - np.float32(p[j + 1, i]))
                out[c, y, x] += share * unit * np.float32(r0 + t * (r1 - r0))
            continue
        wx[0], wx[1], wy[0], wy[1] = np.float32(1) - s, s, np.float32(1) - t, t
        for n in range(2):
            columns[n], rows[n] = folded(i + n, wide, edges), folded(j + n, tall, edges)
        for c in range(channels):
            out[c, y, x] += share * unit * weighted(planes, c, rows, columns, wy, wx, 2)
        out[channels, y, x] += share * covered(rows, columns, wy, wx, 2)


@subroutine
def _held(out: np.ndarray, y: int):
    for c in range(out.shape[0]):
        for x in range(out.shape[2]):
            out[c, y, x] = min(max(np.float32(0), out[c, y, x]), np.float32(1))
