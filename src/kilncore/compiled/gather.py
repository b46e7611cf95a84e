"""Reading a picture at shifted places by cubic convolution (`cubic`)."""

import numpy as np

from kilncore.compiled.cubic import cubic_pixel, cubic_value
from kilncore.compiled.kernels import kernel, subroutine


@subroutine
def _placed(
    dx: np.ndarray,
    dy: np.ndarray,
    way: tuple,
    y: int,
    row_bytes: int,
    pixel_bytes: float,
    us: np.ndarray,
    vs: np.ndarray,
    places: np.ndarray,
):
    """Of one row of shifts, (w,) dx and dy: how far between neighbours each lands, and the bytes to
    the first of its 4 x 4 neighbours.
    """
    across, down, still, most, left, top = way
    for x in range(len(us)):
        u, v = across * (dx[x] - still), down * (dy[x] - still)
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
def gather_one(plane: np.ndarray, dx: np.ndarray, dy: np.ndarray, way: tuple, rim: int):
    """(h, w) float32 of an (H, W) plane, clamped to 0..1. dx, dy : with a rim that is not drawn.
    way : across, down, still, most, left, top, as `sampling.shifted` has them; all that is read
    must lie inside the plane."""
    height, width = dx.shape[0] - 2 * rim, dx.shape[1] - 2 * rim
    first, row_bytes = plane.ctypes.data, plane.strides[0]
    out = np.empty((height, width), np.float32)
    us, vs, places = (
        np.empty(width, np.float32),
        np.empty(width, np.float32),
        np.empty(width, np.int64),
    )
    for y in range(height):
        row_dx, row_dy = dx[y + rim, rim : rim + width], dy[y + rim, rim : rim + width]
        _placed(row_dx, row_dy, way, y, row_bytes, 4, us, vs, places)
        for x in range(width):
            out[y, x] = cubic_value(first + places[x], row_bytes, us[x], vs[x])
        for x in range(width):
            out[y, x] = min(max(np.float32(0), out[y, x]), np.float32(1))
    return out


@kernel
def gather_four(pixels: np.ndarray, dx: np.ndarray, dy: np.ndarray, way: tuple, rim: int):
    """(4, h, w) float32, colour clamped to 0..alpha. pixels : (H, W, 4) interleaved, since all four
    channels are wanted from one place.
    """
    height, width = dx.shape[0] - 2 * rim, dx.shape[1] - 2 * rim
    first, row_bytes = pixels.ctypes.data, pixels.strides[0]
    out, row = np.empty((4, height, width), np.float32), np.empty((width, 4), np.float32)
    us, vs, places = (
        np.empty(width, np.float32),
        np.empty(width, np.float32),
        np.empty(width, np.int64),
    )
    for y in range(height):
        row_dx, row_dy = dx[y + rim, rim : rim + width], dy[y + rim, rim : rim + width]
        _placed(row_dx, row_dy, way, y, row_bytes, 16, us, vs, places)
        for x in range(width):
            cubic_pixel(row.ctypes.data + 16 * x, first + places[x], row_bytes, us[x], vs[x])
        for x in range(width):
            out[3, y, x] = min(max(np.float32(0), row[x, 3]), np.float32(1))
        for c in range(3):
            for x in range(width):
                out[c, y, x] = min(max(np.float32(0), row[x, c]), out[3, y, x])
    return out


STEEP = np.float32(0.3)  # px a px: where neighbours are drawn so much farther apart, edges jag
THIRD = np.float32(1 / 3)


@subroutine
def _slopes(dx: np.ndarray, dy: np.ndarray, way: np.ndarray, y: int, x: int):
    """(dx by x, dx by y, dy by x, dy by y) of the shift at a pixel; arrays with 1 px around."""
    across, down, half = way[0], way[1], np.float32(0.5)
    return (
        across * (dx[y + 1, x + 2] - dx[y + 1, x]) * half,
        across * (dx[y + 2, x + 1] - dx[y, x + 1]) * half,
        down * (dy[y + 1, x + 2] - dy[y + 1, x]) * half,
        down * (dy[y + 2, x + 1] - dy[y, x + 1]) * half,
    )


@subroutine
def _steepest(steepest: np.ndarray, dx: np.ndarray, dy: np.ndarray, way: tuple, y: int):
    """The largest slope of each pixel of a row: a loop of its own, since it works on many at once
    and few pixels are steep."""
    for x in range(len(steepest)):
        xx, xy, yx, yy = _slopes(dx, dy, way, y, x)
        steepest[x] = max(max(abs(xx), abs(xy)), max(abs(yx), abs(yy)))


@subroutine
def _nearby(shift: float, aside: float, most: float):
    """A shift as seen from a place beside a pixel's middle: (whole px, share)."""
    place = min(max(-most, shift + aside), most)
    whole = np.floor(place)
    return np.int64(whole), place - whole


@kernel
def refine_one(out: np.ndarray, plane: np.ndarray, dx: np.ndarray, dy: np.ndarray, way: tuple):
    """Pixels of what `gather_one` gave made the mean of 3 x 3, where the shifts are steep. dx, dy :
    with 1 px around."""
    across, down, still, most, left, top = way
    height, width = out.shape
    first, row_bytes = plane.ctypes.data, plane.strides[0]
    steepest = np.empty(width, np.float32)
    for y in range(height):
        _steepest(steepest, dx, dy, way, y)
        for x in range(width):
            if steepest[x] <= STEEP:
                continue
            xx, xy, yx, yy = _slopes(dx, dy, way, y, x)
            u, v = across * (dx[y + 1, x + 1] - still), down * (dy[y + 1, x + 1] - still)
            total = np.float32(0)
            for n in range(9):
                i, j = np.float32(n % 3 - 1) * THIRD, np.float32(n // 3 - 1) * THIRD
                column, s = _nearby(u, i + xx * i + xy * j, most)
                row, t = _nearby(v, j + yx * i + yy * j, most)
                at = (row + y + top - 1) * row_bytes + (column + x + left - 1) * 4
                total += cubic_value(first + at, row_bytes, s, t)
            out[y, x] = min(max(np.float32(0), total / np.float32(9)), np.float32(1))


@kernel
def refine_four(out: np.ndarray, pixels: np.ndarray, dx: np.ndarray, dy: np.ndarray, way: tuple):
    """The same of (4, h, w) out, as `gather_four` gave it."""
    across, down, still, most, left, top = way
    _, height, width = out.shape
    first, row_bytes = pixels.ctypes.data, pixels.strides[0]
    one, total = np.empty(4, np.float32), np.empty(4, np.float32)
    steepest = np.empty(width, np.float32)
    for y in range(height):
        _steepest(steepest, dx, dy, way, y)
        for x in range(width):
            if steepest[x] <= STEEP:
                continue
            xx, xy, yx, yy = _slopes(dx, dy, way, y, x)
            u, v = across * (dx[y + 1, x + 1] - still), down * (dy[y + 1, x + 1] - still)
            total[:] = 0
            for n in range(9):
                i, j = np.float32(n % 3 - 1) * THIRD, np.float32(n // 3 - 1) * THIRD
                column, s = _nearby(u, i + xx * i + xy * j, most)
                row, t = _nearby(v, j + yx * i + yy * j, most)
                at = (row + y + top - 1) * row_bytes + (column + x + left - 1) * 16
                cubic_pixel(one.ctypes.data, first + at, row_bytes, s, t)
                for c in range(4):
                    total[c] += one[c]
            out[3, y, x] = min(max(np.float32(0), total[3] / np.float32(9)), np.float32(1))
            for c in range(3):
                out[c, y, x] = min(max(np.float32(0), total[c] / np.float32(9)), out[3, y, x])
