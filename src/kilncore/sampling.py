"""Reading a picture between its pixels: displacement, and the smooth resampling it uses.

Source: W3C Filter Effects Level 1, feDisplacementMap: P'(x, y) = P(x + s (X - 0.5), y + s (Y -
0.5)). Smooth resampling: Keys 1981, cubic convolution with a = -0.5.
"""

import math
from typing import Any

import numpy as np

from kilncore.blur import blur_within, reach
from kilncore.compiled.gather import gather_four, gather_one, refine_four, refine_one
from kilncore.compiled.kernels import inlined, kernel
from kilncore.errors import KilnError
from kilncore.geometry.box import Box
from kilncore.pixels.planes import checked, from_planes, to_planes

MOST_SMOOTH, MOST_SHIFT = 100, 1e5
NEARLY_ALL, LEAST_BORDER = 1 - 1e-6, 2
CHANNELS = "RGBA"
INTERPOLATIONS = ("nearest", "bilinear", "bicubic")


def displace(
    image: np.ndarray,
    map_: np.ndarray,
    scale_x: float,
    scale_y: float,
    channel_x: str = "R",
    channel_y: str = "G",
    interpolation: str = "bilinear",
) -> np.ndarray:
    """Shift pixels by two channels of a map. Outside the image is transparent.

    Parameters
    ----------
    image, map_ : (H, W, 4) float array
        Straight, 0..1, of one size.
    scale_x, scale_y : float
        Px of shift from black to white, across and down.
    channel_x, channel_y : str
        Which of R, G, B, A of the map moves across, and down.
    interpolation : str
        'bilinear', 'bicubic' or 'nearest'.

    Returns
    -------
    (H, W, 4) float32 array
        Straight.

    Raises
    ------
    KilnError
        For pictures of different sizes, or a channel or an interpolation that there is not.

    References
    ----------
    W3C, Filter Effects Module Level 1, feDisplacementMap.
    """
    image, map_ = checked(image), checked(map_, "map_")
    if image.shape != map_.shape:
        raise KilnError("Image and map must be of one size.", f"{image.shape}, {map_.shape}")
    if interpolation not in INTERPOLATIONS:
        raise KilnError(f"Interpolation must be one of {', '.join(INTERPOLATIONS)}.", interpolation)
    if not (abs(scale_x) < 1e5 and abs(scale_y) < 1e5):
        raise KilnError(
            "A displacement's scale must be less than 100,000 px.", f"{scale_x}, {scale_y}"
        )
    dx = scale_x * (map_[..., CHANNELS.index(channel_x)] - 0.5)
    dy = scale_y * (map_[..., CHANNELS.index(channel_y)] - 0.5)
    rim = math.ceil(max(np.abs(dx).max(), np.abs(dy).max())) + 2
    planes = np.pad(to_planes(image), ((0, 0), (rim, rim), (rim, rim)))
    return from_planes(shifted(planes, dx, dy, rim, rim, interpolation))


def displace_by_slope(
    image: np.ndarray,
    height_map: np.ndarray,
    amount_x: float,
    amount_y: float,
    smooth: float = 0.0,
    interpolation: str = "bilinear",
) -> np.ndarray:
    """Let pixels slide along the slopes of a surface: out(x, y) = in(x + amount_x dh/dx, y +
    amount_y dh/dy).

    Slopes are central differences, one-sided at the borders. Outside the image is transparent.

    Parameters
    ----------
    image : (H, W, 4) float array
        Straight, 0..1.
    height_map : (H, W) float array
        Of the same size, 0 low to 1 high.
    amount_x, amount_y : float
        Px of shift for a slope of 1 a px.
    smooth : float
        Sigma px of a Gaussian that the map goes through first, 0..100.
    interpolation : str
        As of `displace`.

    Returns
    -------
    (H, W, 4) float32 array
        Straight.

    Raises
    ------
    KilnError
        For pictures of different sizes, or numbers out of range.

    References
    ----------
    Common practice.
    """
    image, height = checked(image), np.asarray(height_map, np.float32)
    if height.shape != image.shape[:2] or min(height.shape) < 2:
        raise KilnError(
            "Image and map must be of one size, 2 px or more.", f"{image.shape}, {height.shape}"
        )
    if interpolation not in INTERPOLATIONS:
        raise KilnError(f"Interpolation must be one of {', '.join(INTERPOLATIONS)}.", interpolation)
    if not 0 <= smooth <= MOST_SMOOTH:
        raise KilnError(f"A map is smoothed by 0 to {MOST_SMOOTH} px.", str(smooth))
    dy, dx = np.gradient(_smoothed(np.nan_to_num(height), smooth))
    dx, dy = dx * np.float32(amount_x), dy * np.float32(amount_y)
    most = max(float(np.abs(dx).max()), float(np.abs(dy).max()))
    if not most < MOST_SHIFT:
        raise KilnError("This slope would move pixels too far.", f"{most} px")
    rim = math.ceil(most) + 2
    planes = np.pad(to_planes(image), ((0, 0), (rim, rim), (rim, rim)))
    return from_planes(shifted(planes, dx, dy, rim, rim, interpolation))


def _smoothed(height: np.ndarray, sigma: float) -> np.ndarray:
    """By a Gaussian, mirrored at the borders."""
    if not sigma:
        return height
    border = reach(sigma)
    padded = np.pad(height, border, "symmetric") if border else height
    return blur_within(padded[None], sigma, sigma, -border, -border)[0]


def shifted(
    planes: np.ndarray,
    dx: np.ndarray,
    dy: np.ndarray,
    left: int,
    top: int,
    interpolation: str = "bicubic",
    times: tuple[float, float] = (1.0, 1.0),
    still: float = 0.0,
    rim: int = 0,
) -> np.ndarray:
    """out(x, y) = planes(x + left + times[0] (dx - still), y + top + times[1] (dy - still)), of the
    size of dx.

    planes : (4, H, W) premultiplied, (1, H, W) alpha, or (3, H, W) opaque colour, with a border as
    wide as the largest shift and 2 px more. dx, dy : (h, w), px; with a `rim` of so many px around
    them that are not drawn, each pixel where they are steep is the mean of 3 x 3 (bicubic alone).
    """
    whole = np.ascontiguousarray(dx, np.float32), np.ascontiguousarray(dy, np.float32)
    dx, dy = whole
    shapes = {one.shape for one in whole}
    if len(shapes) > 1 or dx.ndim != 2 or not 0 <= 2 * rim <= min(dx.shape):
        raise ValueError(f"shifts of {shapes} are not of one shape with a rim of {rim} px")
    dx, dy = (one[rim : one.shape[0] - rim, rim : one.shape[1] - rim] for one in whole)
    border = min(
        left, top, planes.shape[2] - dx.shape[1] - left, planes.shape[1] - dx.shape[0] - top
    )
    if planes.ndim != 3 or border < LEAST_BORDER:
        raise ValueError(
            f"planes of {planes.shape} have no border for shifts of {dx.shape} from {left}, {top}"
        )
    if interpolation == "nearest":
        return _nearest(planes, np.ascontiguousarray(dx), np.ascontiguousarray(dy), left, top)
    if interpolation == "bilinear":
        most = np.float32(border - 1)
        return _bilinear(
            np.ascontiguousarray(planes),
            np.clip(np.nan_to_num(dx), -most, most),
            np.clip(np.nan_to_num(dy), -most, most),
            left,
            top,
        )
    way = (
        *map(np.float32, times),
        np.float32(still),
        np.float32(max(border - 1, 0) * NEARLY_ALL),
        left,
        top,
    )
    if len(planes) == 1:
        plane = np.ascontiguousarray(planes[0], np.float32)  # read by address
        moved = gather_one(plane, *whole, way, rim)
        if rim:
            refine_one(moved, plane, *_with_one_around(whole, rim), way)
        return moved[None]
    pixels = np.ones((*planes.shape[1:], 4), np.float32)
    pixels[..., : len(planes)] = np.moveaxis(planes, 0, 2)
    moved = gather_four(pixels, *whole, way, rim)
    if rim:
        refine_four(moved, pixels, *_with_one_around(whole, rim), way)
    return moved[: len(planes)]


def _with_one_around(shifts: tuple[np.ndarray, ...], rim: int) -> list[np.ndarray]:
    """Shifts that have a rim, with 1 px of it."""
    more = rim - 1
    return [
        np.ascontiguousarray(one[more : one.shape[0] - more, more : one.shape[1] - more])
        for one in shifts
    ]


def with_border(planes: np.ndarray, have: Box, within: Box, how: str) -> np.ndarray:
    """Planes of a box with what lies beyond another one filled in: its border repeated, or what
    lies inside it mirrored. how : 'repeat' or 'mirror'."""
    inner = have.intersection(within)
    if inner.empty or inner == have:
        return planes
    left, top = inner.left - have.left, inner.top - have.top
    right, bottom = have.right - inner.right, have.bottom - inner.bottom
    cut = planes[:, top : top + inner.height, left : left + inner.width]
    mode: Any = {"repeat": "edge", "mirror": "symmetric"}[how]
    return np.pad(cut, ((0, 0), (top, bottom), (left, right)), mode)


def only_within(planes: np.ndarray, have: Box, within: Box) -> np.ndarray:
    """Planes of a box, nothing beyond another one."""
    inner = have.intersection(within)
    if inner == have:
        return planes
    kept = np.zeros_like(planes)
    if not inner.empty:
        rows = slice(inner.top - have.top, inner.bottom - have.top)
        columns = slice(inner.left - have.left, inner.right - have.left)
        kept[:, rows, columns] = planes[:, rows, columns]
    return kept


@inlined
def cubic_weights(t: float):
    """Keys' four weights for a position t, 0..1, between the second and third neighbour."""
    t2 = t * t
    t3 = t2 * t
    half, one, two = np.float32(0.5), np.float32(1), np.float32(2)
    return (
        t2 - half * t - half * t3,
        np.float32(1.5) * t3 - np.float32(2.5) * t2 + one,
        two * t2 - np.float32(1.5) * t3 + half * t,
        half * t3 - half * t2,
    )


@kernel
def _bilinear(planes: np.ndarray, dx: np.ndarray, dy: np.ndarray, left: int, top: int):
    channels, (height, width) = planes.shape[0], dx.shape
    out, one = np.empty((channels, height, width), np.float32), np.float32(1)
    for y in range(height):
        for x in range(width):
            u, v = np.floor(dx[y, x]), np.floor(dy[y, x])
            i, j, s, t = np.int64(u) + x + left, np.int64(v) + y + top, dx[y, x] - u, dy[y, x] - v
            for c in range(channels):
                p = planes[c]
                out[c, y, x] = (one - t) * ((one - s) * p[j, i] + s * p[j, i + 1]) + t * (
                    (one - s) * p[j + 1, i] + s * p[j + 1, i + 1]
                )
    return out


@kernel
def _nearest(planes: np.ndarray, dx: np.ndarray, dy: np.ndarray, left: int, top: int):
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
