"""Reading a picture at shifted places by cubic convolution (`cubic`)."""

import numpy as np

from kilncore.compiled.cubic import cubic_pixel, cubic_value
from kilncore.compiled.kernels import kernel, subroutine


@subroutine
def _placed(dx, dy, way, y, row_bytes, pixel_bytes, us, vs, places):
    """Of one row of shifts: how far between neighbours each lands, and the bytes to the first of
    its 4 x 4 neighbours.
    """
    across, down, still, most, left, top = way
    for x in range(dx.shape[1]):
        u, v = across * (dx[y, x] - still), down * (dy[y, x] - still)
        u, v = (
            min(max(-most, u), most),
            min(max(-most, v), most),
        )  # addresses follow from it: never beyond the border
        i, j = np.floor(u), np.floor(v)
        us[x], vs[x] = u - i, v - j
        places[x] = (np.int32(j) + np.int64(y + top - 1)) * row_bytes + (
            np.int32(i) + np.int64(x + left - 1)
        ) * pixel_bytes


@kernel
def gather_one(plane: np.ndarray, dx: np.ndarray, dy: np.ndarray, way: tuple):
    """(h, w) float32 of an (H, W) plane, clamped to 0..1. way : across, down, still, most, left,
    top, as `sampling.shifted` has them; all that is read must lie inside the plane."""
    height, width = dx.shape
    first, row_bytes = plane.ctypes.data, plane.strides[0]
    out = np.empty((height, width), np.float32)
    us, vs, places = (
        np.empty(width, np.float32),
        np.empty(width, np.float32),
        np.empty(width, np.int64),
    )
    for y in range(height):
        _placed(dx, dy, way, y, row_bytes, 4, us, vs, places)
        for x in range(width):
            out[y, x] = cubic_value(first + places[x], row_bytes, us[x], vs[x])
        for x in range(width):
            out[y, x] = min(max(np.float32(0), out[y, x]), np.float32(1))
    return out


@kernel
def gather_four(pixels: np.ndarray, dx: np.ndarray, dy: np.ndarray, way: tuple):
    """(4, h, w) float32, colour clamped to 0..alpha. pixels : (H, W, 4) interleaved, since all four
    channels are wanted from one place.
    """
    height, width = dx.shape
    first, row_bytes = pixels.ctypes.data, pixels.strides[0]
    out, found = np.empty((4, height, width), np.float32), np.empty((width, 4), np.float32)
    us, vs, places = (
        np.empty(width, np.float32),
        np.empty(width, np.float32),
        np.empty(width, np.int64),
    )
    for y in range(height):
        _placed(dx, dy, way, y, row_bytes, 16, us, vs, places)
        for x in range(width):
            cubic_pixel(found.ctypes.data + 16 * x, first + places[x], row_bytes, us[x], vs[x])
        for x in range(width):
            out[3, y, x] = min(max(np.float32(0), found[x, 3]), np.float32(1))
        for c in range(3):
            for x in range(width):
                out[c, y, x] = min(max(np.float32(0), found[x, c]), out[3, y, x])
    return out
