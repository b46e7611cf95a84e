"""Gradients, pixel by pixel: colours along a line, around a point outwards, or around it.

Colours are mixed encoded and premultiplied between two stops, as CSS Images Level 4 does. A pixel
is the mean of what it covers along the gradient: the colour of the ramp is summed in closed form
from one side of the pixel to the other, so that hard stops and fine repeats have even edges and a
draft is the mean of the exact picture.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from kilncore.compiled.kernels import inlined, kernel
from kilncore.pixels.dither import noise

STRAIGHT, ROUND, CONE = "straight", "round", "cone"
NONE, REPEAT, MIRROR = "none", "repeat", "mirror"
WAYS, REPEATS = (STRAIGHT, ROUND, CONE), (NONE, REPEAT, MIRROR)
LEAST_PERIOD = 1e-6
WHOLE_TURN = 2 * math.pi


@dataclass(frozen=True, eq=False)
class Ramp:
    """at : (N,) float64, in order. colours : (N, 4) float64, premultiplied. sums : (N, 4), summed
    from the first stop to each."""

    at: np.ndarray
    colours: np.ndarray
    sums: np.ndarray


def ramp_of(stops: Sequence[tuple[float, Sequence[float]]]) -> Ramp:
    """stops : (place, straight red, green, blue, alpha 0..1), at least one, in any order; of those
    on one place the order given counts. ValueError if there are none.
    """
    if not stops:
        raise ValueError("a gradient has one stop at least")
    stops = sorted(stops, key=lambda stop: stop[0])
    at = np.array([place for place, _ in stops], np.float64)
    colours = np.array([rgba for _, rgba in stops], np.float64)
    colours[:, :3] *= colours[:, 3:]
    steps = np.diff(at)[:, None] * (colours[1:] + colours[:-1]) / 2
    return Ramp(at, colours, np.concatenate([np.zeros((1, 4)), np.cumsum(steps, 0)]))


def painted(
    ramp: Ramp,
    way: str,
    matrix: Sequence[float],
    size: tuple[int, int],
    repeat: str = NONE,
    places: np.ndarray | None = None,
    sharp: bool = False,
    dither: tuple[int, int, int] | None = None,
) -> np.ndarray:
    """A gradient in a box.

    Parameters
    ----------
    ramp : Ramp
        Its colours.
    way : str
        STRAIGHT, ROUND or CONE.
    matrix : six floats
        (a, b, c, d, e, f): from a pixel's middle, px from the box's upper left corner, or from a
        place of `places`, to the gradient's own plane, u = a x + c y + e, v = b x + d y + f. Along
        u a straight one goes from 0 to 1; a round one from the origin to the unit circle; a cone
        begins on the way of u, and turns towards v.
    size : (width, height)
        Of the box.
    repeat : str
        NONE, REPEAT or MIRROR: what lies beyond the first and the last stop.
    places : (H + 1, W + 1, 2) float64 array, optional
        Where the corners of the pixels lie, where that is no affine map.
    sharp : bool
        Each pixel is the colour of its middle.
    dither : (x, y, seed), optional
        Of the box's upper left pixel: noise of one level of 255 is added.

    Returns
    -------
    (4, H, W) float32 array
        Premultiplied.
    """
    width, height = size
    out = np.empty((4, height, width), np.float32)
    wild = np.empty((1, 1, 2)) if places is None else np.ascontiguousarray(places, np.float64)
    if places is not None and wild.shape != (height + 1, width + 1, 2):
        raise ValueError(f"places of {wild.shape} are not those of {width} x {height} px")
    x, y, seed = dither or (0, 0, 0)
    numbers: Any = np.array(matrix, np.float64)
    if numbers.shape != (6,) or not np.isfinite(numbers).all():
        raise ValueError(f"a gradient needs six finite numbers, not {matrix}")
    _painted(
        out,
        ramp.at,
        ramp.colours,
        ramp.sums,
        WAYS.index(way),
        REPEATS.index(repeat),
        numbers,
        wild,
        places is not None,
        sharp,
        dither is not None,
        np.array([x, y], np.int64),
        np.uint32(seed),
    )
    return out


@inlined
def _segment(at: np.ndarray, t: float) -> int:
    """How many stops lie at or before a place."""
    count = 0
    while count < at.shape[0] and at[count] <= t:
        count += 1
    return count


@inlined
def _folded(at: np.ndarray, repeat: int, t: float):
    """(a place among the stops, how many whole periods lie before it, whether it runs back), of a
    place of a ramp that may repeat.
    """
    period = at[-1] - at[0]
    if repeat == 0 or period < LEAST_PERIOD:
        return t, 0.0, False
    times = (t - at[0]) / period
    whole = math.floor(times)
    share = times - whole
    if repeat == 2 and int(whole) % 2:
        return at[0] + (1 - share) * period, whole, True
    return at[0] + share * period, whole, False


@inlined
def _value(at: np.ndarray, colours: np.ndarray, t: float, after: int, channel: int) -> float:
    """The ramp at a place. after : of `_segment`."""
    if after == 0:
        return colours[0, channel]
    if after == at.shape[0]:
        return colours[after - 1, channel]
    share = (t - at[after - 1]) / (at[after] - at[after - 1])
    first = colours[after - 1, channel]
    return first + (colours[after, channel] - first) * share


@inlined
def _sum(
    at: np.ndarray,
    colours: np.ndarray,
    sums: np.ndarray,
    t: float,
    after: int,
    whole: float,
    back: bool,
    channel: int,
) -> float:
    """Of the ramp, from its first stop to a place that `_folded` and `_segment` found."""
    if after == 0:
        found = (t - at[0]) * colours[0, channel]
    else:
        past = t - at[after - 1]
        first = colours[after - 1, channel]
        found = sums[after - 1, channel] + past * first
        if after < at.shape[0]:
            steep = (colours[after, channel] - first) / (at[after] - at[after - 1])
            found += steep * past * past / 2
    all_of_it = sums[-1, channel]
    return (whole + 1) * all_of_it - found if back else whole * all_of_it + found


@inlined
def _between(
    out: np.ndarray,
    at: np.ndarray,
    colours: np.ndarray,
    sums: np.ndarray,
    repeat: int,
    low: float,
    high: float,
    times: float,
):
    """Add `times` the sum of the ramp from one place to another to each of four numbers."""
    t0, whole0, back0 = _folded(at, repeat, low)
    t1, whole1, back1 = _folded(at, repeat, high)
    after0, after1 = _segment(at, t0), _segment(at, t1)
    for channel in range(4):
        found = _sum(at, colours, sums, t1, after1, whole1, back1, channel)
        found -= _sum(at, colours, sums, t0, after0, whole0, back0, channel)
        out[channel] += found * times


@kernel
def _painted(
    out: np.ndarray,
    at: np.ndarray,
    colours: np.ndarray,
    sums: np.ndarray,
    way: int,
    repeat: int,
    matrix: np.ndarray,
    places: np.ndarray,
    wild: bool,
    sharp: bool,
    dithered: bool,
    first: np.ndarray,
    seed: int,
):
    a, b, c, d, e, f = matrix[0], matrix[1], matrix[2], matrix[3], matrix[4], matrix[5]
    mean = np.empty(4)
    ax, ay, bx, by = 1.0, 0.0, 0.0, 1.0
    for y in range(out.shape[1]):
        for x in range(out.shape[2]):
            px, py = x + 0.5, y + 0.5
            if wild:
                p, q, r, s = places[y, x], places[y + 1, x + 1], places[y, x + 1], places[y + 1, x]
                px, py = (p[0] + q[0]) / 2, (p[1] + q[1]) / 2
                ax, ay, bx, by = r[0] - p[0], r[1] - p[1], s[0] - p[0], s[1] - p[1]
            u, v = a * px + c * py + e, b * px + d * py + f
            # how far a pixel reaches in the gradient's plane, across and down
            ua, va, ub, vb = a * ax + c * ay, b * ax + d * ay, a * bx + c * by, b * bx + d * by
            if way == 0:
                t, wide = u, math.sqrt(ua * ua + ub * ub)
            elif way == 1:
                t = math.sqrt(u * u + v * v)
                near = max(t, 1e-12)
                across, down = (u * ua + v * va) / near, (u * ub + v * vb) / near
                wide = math.sqrt(across * across + down * down)
            else:
                t = math.atan2(v, u) / WHOLE_TURN
                t -= math.floor(t)
                far = max(u * u + v * v, 1e-18) * WHOLE_TURN
                across, down = (u * va - v * ua) / far, (u * vb - v * ub) / far
                wide = min(math.sqrt(across * across + down * down), 1.0)
            low, high = t - wide / 2, t + wide / 2
            if way == 1 and low < 0:
                low = 0.0
            plain = sharp or high - low < 1e-9
            middle = t if sharp else (low + high) / 2
            place, whole, back = _folded(at, repeat, middle)
            after = _segment(at, place)
            if not plain and not (way == 2 and (low < 0 or high > 1)):
                # within one stretch of the ramp its mean is its middle
                t0, whole0, back0 = _folded(at, repeat, low)
                t1, whole1, back1 = _folded(at, repeat, high)
                same = whole0 == whole and whole1 == whole
                plain = same and _segment(at, t0) == after and _segment(at, t1) == after
            if plain:
                for channel in range(4):
                    mean[channel] = _value(at, colours, place, after, channel)
            else:
                mean[:] = 0.0
                times = 1 / (high - low)
                begin, end = low, high
                if way == 2 and low < 0:
                    _between(mean, at, colours, sums, repeat, low + 1, 1.0, times)
                    begin = 0.0
                if way == 2 and high > 1:
                    _between(mean, at, colours, sums, repeat, 0.0, high - 1, times)
                    end = 1.0
                _between(mean, at, colours, sums, repeat, begin, end, times)
            alpha = min(max(mean[3], 0.0), 1.0)
            if dithered:
                i, j = np.int32(first[0] + x), np.int32(first[1] + y)
                if alpha > 0 and alpha < 1:
                    moved = min(max(alpha + noise(i, j, seed), 0.0), 1.0)
                    for channel in range(3):
                        mean[channel] *= moved / alpha
                    alpha = moved
                for channel in range(3):
                    mean[channel] += noise(i, j, np.uint32(seed + channel + 1))
            for channel in range(3):
                out[channel, y, x] = min(max(mean[channel], 0.0), alpha)
            out[3, y, x] = alpha
