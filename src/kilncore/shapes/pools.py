"""How bright a soft pool of light is: a disc, or a stroke, blurred by a Gaussian.

A blurred disc at a distance from its middle is what a normal distribution around that place has
within the disc: an integral over chords, worked out once for each softness (as the Marcum Q
function, J. I. Marcum 1960, tells it). Across a straight stroke it is the difference of two normal
distributions.
"""

import math
from functools import lru_cache

import numpy as np

from kilncore.compiled.kernels import inlined, kernel

SHARPEST = 1 / 256  # of a radius: the least blur
PLACES, CHORDS = 512, 400
FARTHEST = 4.0  # deviations, beyond which nothing shines


@lru_cache(256)
def profile(blur: float) -> tuple[np.ndarray, float]:
    """A disc of radius 1 blurred by a Gaussian.

    Parameters
    ----------
    blur : float
        Its deviation, in radii.

    Returns
    -------
    ((N,) float64, float)
        How bright it is at even distances from its middle, 0..1, and how far the last one lies.
    """
    sigma = max(blur, SHARPEST)
    far = 1 + FARTHEST * sigma
    return _profile(sigma, far, PLACES, CHORDS), far


@kernel
def _profile(sigma: float, far: float, places: int, chords: int) -> np.ndarray:
    out = np.empty(places)
    root = sigma * math.sqrt(2.0)
    for n in range(places):
        r = far * n / (places - 1)
        first, last = max(-1.0, r - 6 * sigma), min(1.0, r + 6 * sigma)
        total = 0.0
        if last > first:
            step = (last - first) / chords
            for k in range(chords):
                x = first + (k + 0.5) * step
                half = math.sqrt(max(1 - x * x, 0.0))
                weight = math.exp(-(((x - r) / sigma) ** 2) / 2) / (sigma * math.sqrt(2 * math.pi))
                total += weight * math.erf(half / root) * step
        out[n] = min(max(total, 0.0), 1.0)
    return out


def disc(
    table: np.ndarray, far: float, matrix: tuple[float, ...], size: tuple[int, int]
) -> np.ndarray:
    """(H, W) float32, 0..1. table, far : of `profile`. matrix : from the middles of pixels, told
    from the upper left corner of the box, to the plane in which the disc has radius 1.
    """
    out = np.empty(size[::-1], np.float32)
    _disc(out, np.ascontiguousarray(table, np.float64), far, np.array(matrix, np.float64))
    return out


@kernel
def _disc(out: np.ndarray, table: np.ndarray, far: float, matrix: np.ndarray):
    a, b, c, d, e, f = matrix[0], matrix[1], matrix[2], matrix[3], matrix[4], matrix[5]
    last = table.shape[0] - 1
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            u = a * (x + 0.5) + c * (y + 0.5) + e
            v = b * (x + 0.5) + d * (y + 0.5) + f
            place = math.sqrt(u * u + v * v) / far * last
            if not place < last:
                out[y, x] = 0.0
                continue
            n = int(place)
            share = place - n
            out[y, x] = table[n] * (1 - share) + table[n + 1] * share


def stroke(way: np.ndarray, half: float, sigma: float, size: tuple[int, int]) -> np.ndarray:
    """(H, W) float32, 0..1: a stroke along a way. way : (N, 2) px from the upper left corner of the
    box. half : of its width, px. sigma : of its blur, px.
    """
    out = np.empty(size[::-1], np.float32)
    points = np.ascontiguousarray(way, np.float64)
    if points.ndim != 2 or points.shape[1] != 2 or len(points) < 1:
        raise ValueError(f"{points.shape} is no way")
    _stroke(out, points, half, max(sigma, 0.3))
    return out


@inlined
def _far(points: np.ndarray, x: float, y: float) -> float:
    """How far a place lies from a way."""
    nearest = (x - points[0, 0]) ** 2 + (y - points[0, 1]) ** 2
    for n in range(points.shape[0] - 1):
        px, py = points[n, 0], points[n, 1]
        dx, dy = points[n + 1, 0] - px, points[n + 1, 1] - py
        long = dx * dx + dy * dy
        t = ((x - px) * dx + (y - py) * dy) / long if long > 0 else 0.0
        t = min(max(t, 0.0), 1.0)
        ox, oy = px + t * dx - x, py + t * dy - y
        nearest = min(nearest, ox * ox + oy * oy)
    return math.sqrt(nearest)


@kernel
def _stroke(out: np.ndarray, points: np.ndarray, half: float, sigma: float):
    root = sigma * math.sqrt(2.0)
    most = half + 4 * sigma
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            far = _far(points, x + 0.5, y + 0.5)
            if not far < most:
                out[y, x] = 0.0
                continue
            out[y, x] = (math.erf((far + half) / root) - math.erf((far - half) / root)) / 2
