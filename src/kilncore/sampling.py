"""Reading a picture between its pixels: displacement, and the smooth resampling it uses.

Source: W3C Filter Effects Level 1, feDisplacementMap: P'(x, y) = P(x + s (X - 0.5), y + s (Y - 0.5)).
Smooth resampling: Keys 1981, cubic convolution with a = -0.5.
"""

import numpy as np

from kilncore.errors import KilnError
from kilncore.kernels import inlined, kernel
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

    planes : (4, H, W) premultiplied; what lies beyond it is transparent. dx, dy : (h, w), px.
    """
    dx, dy = np.ascontiguousarray(dx, np.float32), np.ascontiguousarray(dy, np.float32)
    pixels = np.ascontiguousarray(np.moveaxis(planes, 0, 2))
    return _shifted(pixels, dx, dy, left, top, INTERPOLATIONS.index(interpolation))


@inlined
def cubic_weights(t, weights):
    """Keys' four weights for a position t, 0..1, between the second and third neighbour."""
    t2, t3 = t * t, t * t * t
    weights[0] = -0.5 * t3 + t2 - 0.5 * t
    weights[1] = 1.5 * t3 - 2.5 * t2 + 1
    weights[2] = -1.5 * t3 + 2 * t2 + 0.5 * t
    weights[3] = 0.5 * t3 - 0.5 * t2


@inlined
def linear_weights(t, weights):
    weights[0] = 0
    weights[1] = 1 - t
    weights[2] = t
    weights[3] = 0


@inlined
def _tap(i, size):
    """The index, and 0 instead of 1 as its factor where it lies outside."""
    return min(max(i, 0), size - 1), np.float32(1 if 0 <= i < size else 0)


@kernel
def _shifted(pixels, dx, dy, left, top, method):
    """pixels : (H, W, 4) interleaved, since a gather wants all four channels from one place."""
    rows, columns, _ = pixels.shape
    height, width = dx.shape
    out = np.empty((4, height, width), np.float32)
    wx, wy = np.empty(4, np.float32), np.empty(4, np.float32)
    cx = np.empty(4, np.int64)
    for y in range(height):
        for x in range(width):
            u, v = x + left + dx[y, x], y + top + dy[y, x]
            if method == 0:
                u, v = np.floor(u + 0.5), np.floor(v + 0.5)
            i, j = int(np.floor(u)), int(np.floor(v))
            if method == 2:
                cubic_weights(np.float32(u - i), wx)
                cubic_weights(np.float32(v - j), wy)
            else:
                linear_weights(np.float32(u - i), wx)
                linear_weights(np.float32(v - j), wy)
            for m in range(4):
                cx[m], inside = _tap(i + m - 1, columns)
                wx[m] *= inside
            r = g = b = a = np.float32(0)
            for n in range(4):
                row, inside = _tap(j + n - 1, rows)
                for m in range(4):
                    weight = wy[n] * wx[m] * inside
                    r += weight * pixels[row, cx[m], 0]
                    g += weight * pixels[row, cx[m], 1]
                    b += weight * pixels[row, cx[m], 2]
                    a += weight * pixels[row, cx[m], 3]
            a = min(max(a, np.float32(0)), np.float32(1))
            out[0, y, x] = min(max(r, np.float32(0)), a)
            out[1, y, x] = min(max(g, np.float32(0)), a)
            out[2, y, x] = min(max(b, np.float32(0)), a)
            out[3, y, x] = a
    return out
