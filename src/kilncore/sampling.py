"""Reading a picture between its pixels: displacement, and the smooth resampling it uses.

Source: W3C Filter Effects Level 1, feDisplacementMap: P'(x, y) = P(x + s (X - 0.5), y + s (Y - 0.5)).
Smooth resampling: Keys 1981, cubic convolution with a = -0.5.
"""

import math

import numpy as np

from kilncore.errors import KilnError
from kilncore.kernels import inlined, kernel, part
from kilncore.planes import checked, from_planes, to_planes

CHANNELS = "RGBA"
INTERPOLATIONS = ("nearest", "bilinear", "bicubic")


def displace(image, map_, scale_x, scale_y, channel_x="R", channel_y="G", interpolation="bilinear") -> np.ndarray:
    """Shift pixels by two channels of a map.

    image, map_ : (H, W, 4) straight pictures of one size. scale_x, scale_y : px of shift from black to white.
    channel_x, channel_y : which of R, G, B, A of the map moves across and down. Outside the image is transparent.
    """
    image, map_ = checked(image), checked(map_, "map_")
    if image.shape != map_.shape:
        raise KilnError("Image and map must be of one size.", f"{image.shape}, {map_.shape}")
    if interpolation not in INTERPOLATIONS:
        raise KilnError(f"Interpolation must be one of {', '.join(INTERPOLATIONS)}.", interpolation)
    dx = scale_x * (map_[..., CHANNELS.index(channel_x)] - 0.5)
    dy = scale_y * (map_[..., CHANNELS.index(channel_y)] - 0.5)
    return from_planes(shifted(to_planes(image), dx, dy, 0, 0, interpolation))


def shifted(planes, dx, dy, left, top, interpolation="bicubic") -> np.ndarray:
    """out(x, y) = planes(x + left + dx, y + top + dy), of the size of dx.

    planes : (4, H, W) premultiplied, (1, H, W) alpha, or (3, H, W) opaque colour that is read inside alone; what lies
    beyond the others is transparent. dx, dy : (h, w), px.
    """
    dx, dy = np.ascontiguousarray(dx, np.float32), np.ascontiguousarray(dy, np.float32)
    if interpolation == "nearest":
        return _nearest(planes, dx, dy, left, top)
    cubic = interpolation == "bicubic"
    rim = max(0, _reach(dx, left, dx.shape[1], planes.shape[2]), _reach(dy, top, dy.shape[0], planes.shape[1]))
    if rim:
        planes = np.pad(planes, ((0, 0), (rim, rim), (rim, rim)))
    if len(planes) == 1:
        return _gather_one(np.ascontiguousarray(planes[0]), dx, dy, left + rim, top + rim, cubic)[None]
    pixels = np.ones((*planes.shape[1:], 4), np.float32)
    pixels[..., : len(planes)] = np.moveaxis(planes, 0, 2)
    return _gather_four(pixels, dx, dy, left + rim, top + rim, cubic)[: len(planes)]


def _reach(shift, first, count, size) -> int:
    """How many px the gather would read beyond the picture on either side, at the most."""
    low, high = math.floor(float(shift.min())), math.ceil(float(shift.max()))
    return max(1 - first - low, first + count + high + 2 - size)


@inlined
def cubic_weights(t):
    """Keys' four weights for a position t, 0..1, between the second and third neighbour."""
    t2 = t * t
    t3 = t2 * t
    half, one, two = np.float32(0.5), np.float32(1), np.float32(2)
    return (t2 - half * t - half * t3, np.float32(1.5) * t3 - np.float32(2.5) * t2 + one,
            two * t2 - np.float32(1.5) * t3 + half * t, half * t3 - half * t2)


@part
def _prepared(dx, dy, y, cubic, across, down, columns, rows):
    """Weights and first neighbours of one row of shifts: a loop without branches on its own is many times as fast."""
    zero, one = np.float32(0), np.float32(1)
    for x in range(dx.shape[1]):
        u, v = dx[y, x], dy[y, x]
        i, j = np.floor(u), np.floor(v)
        u, v = u - i, v - j
        if cubic:
            across[0, x], across[1, x], across[2, x], across[3, x] = cubic_weights(u)
            down[0, x], down[1, x], down[2, x], down[3, x] = cubic_weights(v)
        else:
            across[0, x], across[1, x], across[2, x], across[3, x] = zero, one - u, u, zero
            down[0, x], down[1, x], down[2, x], down[3, x] = zero, one - v, v, zero
        columns[x], rows[x] = np.int32(i), np.int32(j)


@kernel
def _gather_one(plane, dx, dy, left, top, cubic):
    """plane : (H, W) with all that is read inside it. Neighbours are added down first: four adjacent loads each."""
    height, width = dx.shape
    stride, flat = plane.shape[1], plane.ravel()
    out = np.empty((height, width), np.float32)
    across, down = np.empty((4, width), np.float32), np.empty((4, width), np.float32)
    columns, rows = np.empty(width, np.int32), np.empty(width, np.int32)
    for y in range(height):
        _prepared(dx, dy, y, cubic, across, down, columns, rows)
        for x in range(width):
            p = (rows[x] + y + top - 1) * stride + columns[x] + x + left - 1
            q, r, s = p + stride, p + 2 * stride, p + 3 * stride
            b0, b1, b2, b3 = down[0, x], down[1, x], down[2, x], down[3, x]
            v0 = b0 * flat[p] + b1 * flat[q] + b2 * flat[r] + b3 * flat[s]
            v1 = b0 * flat[p + 1] + b1 * flat[q + 1] + b2 * flat[r + 1] + b3 * flat[s + 1]
            v2 = b0 * flat[p + 2] + b1 * flat[q + 2] + b2 * flat[r + 2] + b3 * flat[s + 2]
            v3 = b0 * flat[p + 3] + b1 * flat[q + 3] + b2 * flat[r + 3] + b3 * flat[s + 3]
            out[y, x] = across[0, x] * v0 + across[1, x] * v1 + across[2, x] * v2 + across[3, x] * v3
        for x in range(width):
            out[y, x] = min(max(out[y, x], np.float32(0)), np.float32(1))
    return out


@kernel
def _gather_four(pixels, dx, dy, left, top, cubic):
    """pixels : (H, W, 4) interleaved, since a gather wants all four channels from one place."""
    height, width = dx.shape
    out = np.empty((4, height, width), np.float32)
    across, down = np.empty((4, width), np.float32), np.empty((4, width), np.float32)
    columns, rows = np.empty(width, np.int32), np.empty(width, np.int32)
    for y in range(height):
        _prepared(dx, dy, y, cubic, across, down, columns, rows)
        for x in range(width):
            j, i = rows[x] + y + top - 1, columns[x] + x + left - 1
            a0, a1, a2, a3 = across[0, x], across[1, x], across[2, x], across[3, x]
            for c in range(4):
                v0 = a0 * pixels[j, i, c] + a1 * pixels[j, i + 1, c] + a2 * pixels[j, i + 2, c] + a3 * pixels[j, i + 3, c]
                v1 = (a0 * pixels[j + 1, i, c] + a1 * pixels[j + 1, i + 1, c]
                      + a2 * pixels[j + 1, i + 2, c] + a3 * pixels[j + 1, i + 3, c])
                v2 = (a0 * pixels[j + 2, i, c] + a1 * pixels[j + 2, i + 1, c]
                      + a2 * pixels[j + 2, i + 2, c] + a3 * pixels[j + 2, i + 3, c])
                v3 = (a0 * pixels[j + 3, i, c] + a1 * pixels[j + 3, i + 1, c]
                      + a2 * pixels[j + 3, i + 2, c] + a3 * pixels[j + 3, i + 3, c])
                out[c, y, x] = down[0, x] * v0 + down[1, x] * v1 + down[2, x] * v2 + down[3, x] * v3
        for x in range(width):
            out[3, y, x] = min(max(out[3, y, x], np.float32(0)), np.float32(1))
        for c in range(3):
            for x in range(width):
                out[c, y, x] = min(max(out[c, y, x], np.float32(0)), out[3, y, x])
    return out


@kernel
def _nearest(planes, dx, dy, left, top):
    channels, rows, columns = planes.shape
    height, width = dx.shape
    out = np.zeros((channels, height, width), np.float32)
    for y in range(height):
        for x in range(width):
            i, j = int(np.floor(x + left + dx[y, x] + 0.5)), int(np.floor(y + top + dy[y, x] + 0.5))
            if 0 <= i < columns and 0 <= j < rows:
                for c in range(channels):
                    out[c, y, x] = planes[c, j, i]
    return out
