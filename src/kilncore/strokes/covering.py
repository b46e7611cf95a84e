"""How much a stroke covers of each pixel.

Of a smooth round tip the distance to the stroke's way says it. Of a rough tip it is 1 - the product
of (1 - loaded x tip) over its dabs, cut at the stroke's strength. A pixel's value depends on its
own place alone.
"""

import math

import numpy as np

from kilncore.compiled.kernels import kernel, subroutine
from kilncore.geometry.box import Box
from kilncore.strokes.curves import reached
from kilncore.strokes.dabs import dabs_of
from kilncore.strokes.drawn import Drawn
from kilncore.strokes.tip import SIZE

BLOCK, SMALL_BLOCK, HALF_DIAGONAL = (
    16,
    4,
    0.7072,
)  # px: in each only those segments are looked at that may be nearest somewhere
HARDEST, LEAST_RADIUS = 1 - 1e-3, 1.5
FARTHEST = 2**40  # px


def covered(stroke: Drawn, own: tuple[float, ...], box: Box) -> tuple[Box, np.ndarray] | None:
    """What a stroke covers within a box of output px.

    Parameters
    ----------
    stroke : Drawn
        In an item's own frame.
    own : (a, b, c, d, e, f)
        From an output pixel's index to that frame, as `Frame.own` gives it.
    box : Box
        Of output px.

    Returns
    -------
    (Box, (H, W) float32) or None
        What it reaches of the box, and how much it covers there, 0..1; None where it reaches
        nothing.
    """
    here = reach_of(stroke, own).intersection(box)
    if here.empty:
        return None
    if stroke.rough is None:
        amount = _smooth(stroke, own, here) * np.float32(stroke.strength)
    else:
        amount = _dabbed(stroke, own, here)
    return here, amount


def reach_of(stroke: Drawn, own: tuple[float, ...]) -> Box:
    """The output px that it may cover; none, if it lies beyond all that is drawn."""
    reach = max(stroke.reach / math.hypot(own[0], own[1]), 1) + 1
    points = on_grid(stroke.points, own)
    if not (np.isfinite(points).all() and np.abs(points).max() < FARTHEST and reach < FARTHEST):
        return Box(0, 0, 0, 0)
    (left, top), (right, bottom) = np.floor(points.min(0) - reach), np.ceil(points.max(0) + reach)
    return Box(int(left), int(top), int(right) + 1, int(bottom) + 1)


def on_grid(points: np.ndarray, own: tuple[float, ...]) -> np.ndarray:
    """Points of the item's own frame as output pixel indices."""
    a, b, c, d, e, f = own
    u, v = points[:, 0] - e, points[:, 1] - f
    det = a * d - b * c
    return np.stack([(d * u - c * v) / det, (a * v - b * u) / det], 1)


def _smooth(stroke: Drawn, own: tuple[float, ...], here: Box) -> np.ndarray:
    points = on_grid(stroke.points, own)
    if len(points) == 1:
        points = np.repeat(points, 2, 0)
    radius = stroke.radius / math.hypot(own[0], own[1])
    hardness = min(stroke.hardness, HARDEST)
    if stroke.widths is None and not stroke.flat:
        amounts = _amounts(points, max(radius, 1.0), hardness, tuple(here))
        return amounts * np.float32(_thin(radius, hardness))
    widths = (
        np.ones(len(points)) if stroke.widths is None else np.resize(stroke.widths, len(points))
    )
    cuts = _cuts(points, radius) if stroke.flat else np.zeros(len(points), np.int8)
    return _tapered(points, radius * widths, hardness, cuts, tuple(here))


def _cuts(points: np.ndarray, radius: float) -> np.ndarray:
    """(N - 1,) of each piece of a way: cut off flat where the way starts (1), where it
    ends (2), at both (3) or neither: those are that would reach beyond.
    """
    at = reached(points)
    starts, stops = at[:-1] < radius, at[-1] - at[1:] < radius
    return (starts + 2 * stops).astype(np.int8)


def _thin(radius: float, hardness: float) -> float:
    """What a line narrower than a pixel covers of one."""
    return min(radius * (1 + hardness), 1.0)


def _dabbed(stroke: Drawn, own: tuple[float, ...], here: Box) -> np.ndarray:
    """(H, W) float32."""
    assert stroke.rough is not None
    dabs, unit = dabs_of(stroke), 1 / math.hypot(own[0], own[1])
    places = on_grid(dabs[:, :2], own)
    turn = dabs[:, 3] + math.atan2(-own[1], own[0])  # the frame's own on the piece
    laid = np.column_stack([places, dabs[:, 2] * unit, np.cos(turn), np.sin(turn), dabs[:, 4:]])
    reach = laid[:, 2] * 2**0.5 + 1
    low, high = laid[:, :2] - reach[:, None], laid[:, :2] + reach[:, None]
    there = (high >= (here.left, here.top)) & (low <= (here.right, here.bottom))
    laid = np.ascontiguousarray(laid[there.all(1)])
    return _stamped(laid, stroke.rough.tip.halved, np.float32(stroke.strength), tuple(here))


@kernel
def _stamped(dabs: np.ndarray, tip: np.ndarray, strength: float, box: tuple):
    """dabs : (N, 7) float64: x, y, radius in px, cosine and sine of the turn, flip, load. tip : as
    `Tip.halved`."""
    left, top, right, bottom = box
    through = np.ones((bottom - top, right - left), np.float32)
    for n in range(dabs.shape[0]):
        x0, y0, radius, cos, sin = dabs[n, 0], dabs[n, 1], dabs[n, 2], dabs[n, 3], dabs[n, 4]
        flip, load = dabs[n, 5], np.float32(dabs[n, 6])
        if not (radius > 1e-6 and load > 0):
            continue
        if radius < LEAST_RADIUS:  # less than a pixel covers less of it
            load, radius = load * np.float32((radius / LEAST_RADIUS) ** 2), LEAST_RADIUS
        size, first = SIZE, 0
        while size > 3 * radius and size % 2 == 0:
            first += size * size
            size //= 2
        scale = size / (2 * radius)
        reach = radius * 1.4143 + 1
        for y in range(max(top, int(y0 - reach)), min(bottom, int(y0 + reach) + 2)):
            for x in range(max(left, int(x0 - reach)), min(right, int(x0 + reach) + 2)):
                dx, dy = x - x0, y - y0
                u = (dx * cos + dy * sin) * flip * scale + size / 2 - 0.5
                v = (dy * cos - dx * sin) * scale + size / 2 - 0.5
                if u <= -1 or v <= -1 or u >= size or v >= size:
                    continue
                value = _between(tip, first, size, u, v) * load
                through[y - top, x - left] *= np.float32(1) - value
    for y in range(bottom - top):
        for x in range(right - left):
            through[y, x] = min(np.float32(1) - through[y, x], strength)
    return through


@subroutine
def _between(tip: np.ndarray, first: int, size: int, u: float, v: float):
    """Between four pixels of a level of a tip, with nothing around it. -1 < u, v < size."""
    i, j = int(math.floor(u)), int(math.floor(v))
    s, t = np.float32(u - i), np.float32(v - j)
    near = _pixel(tip, first, size, i, j) * (np.float32(1) - s)
    near += _pixel(tip, first, size, i + 1, j) * s
    far = _pixel(tip, first, size, i, j + 1) * (np.float32(1) - s)
    far += _pixel(tip, first, size, i + 1, j + 1) * s
    return near * (np.float32(1) - t) + far * t


@subroutine
def _pixel(tip: np.ndarray, first: int, size: int, i: int, j: int):
    if i < 0 or j < 0 or i >= size or j >= size:
        return np.float32(0)
    return tip[first + j * size + i]


@kernel
def _tapered(points: np.ndarray, radii: np.ndarray, hardness: float, cuts: np.ndarray, box: tuple):
    """As `_amounts`, of a way whose radius changes along it: the most that any of its segments
    covers. cuts : as `_cuts` tells them."""
    left, top, right, bottom = box
    out = np.zeros((bottom - top, right - left), np.float32)
    last = points.shape[0] - 1
    for n in range(last):
        x0, y0, x1, y1 = points[n, 0], points[n, 1], points[n + 1, 0], points[n + 1, 1]
        dx, dy = x1 - x0, y1 - y0
        square = max(dx * dx + dy * dy, 1e-12)
        reach = max(radii[n], radii[n + 1], 1.0) + 1
        for y in range(
            max(top, int(min(y0, y1) - reach)), min(bottom, int(max(y0, y1) + reach) + 2)
        ):
            for x in range(
                max(left, int(min(x0, x1) - reach)), min(right, int(max(x0, x1) + reach) + 2)
            ):
                t = min(max(0.0, ((x - x0) * dx + (y - y0) * dy) / square), 1.0)
                radius = radii[n] + (radii[n + 1] - radii[n]) * t
                away = math.sqrt((x - x0 - t * dx) ** 2 + (y - y0 - t * dy) ** 2)
                soft = max(radius * (1 - hardness), 1.0)
                share = min(max(0.0, (away - max(radius, 1.0) + soft) / soft), 1.0)
                value = (1 - share * share * (3 - 2 * share)) * min(radius * (1 + hardness), 1.0)
                if cuts[n] & 1:
                    value *= _within_cut(points[1], points[0], x, y)
                if cuts[n] & 2:
                    value *= _within_cut(points[last - 1], points[last], x, y)
                out[y - top, x - left] = max(out[y - top, x - left], np.float32(value))
    return out


@subroutine
def _within_cut(before: np.ndarray, end: np.ndarray, x: int, y: int):
    """How much of a pixel lies on the near side of a flat end: 0 to 1."""
    dx, dy = end[0] - before[0], end[1] - before[1]
    long = math.sqrt(dx * dx + dy * dy)
    if long < 1e-9:
        return 1.0
    beyond = ((x - end[0]) * dx + (y - end[1]) * dy) / long
    return min(max(0.0, 0.5 - beyond), 1.0)


@subroutine
def _square_away(segments: np.ndarray, n: int, x: int, y: int):
    """The square of how far a place is from one segment. segments : (N, 5): x, y, the way along it,
    1 over its square.
    """
    px, py, dx, dy = x - segments[n, 0], y - segments[n, 1], segments[n, 2], segments[n, 3]
    t = min(max(0.0, (px * dx + py * dy) * segments[n, 4]), 1.0)
    px, py = px - t * dx, py - t * dy
    return px * px + py * py


@subroutine
def _nearby(
    segments: float,
    among: np.ndarray,
    count: int,
    x: int,
    y: int,
    diagonal: float,
    near: np.ndarray,
    squares: np.ndarray,
):
    """Of the first `count` segments in `among`, those that may be nearest to a place within
    `diagonal` of (x, y): how many, and how far the nearest is."""
    nearest = np.inf
    for k in range(count):
        squares[k] = _square_away(segments, among[k], x, y)
        nearest = min(nearest, squares[k])
    nearest = math.sqrt(nearest)
    limit, kept = (nearest + 2 * diagonal) ** 2, 0
    for k in range(count):
        if squares[k] <= limit:
            near[kept] = among[k]
            kept += 1
    return kept, nearest


@kernel
def _amounts(points: np.ndarray, radius: float, hardness: float, box: tuple):
    """How much the stroke covers: 1 within the hard part of the radius, then smoothly down to 0 at
    the radius.

    The edge is never less than a pixel wide. The distance is that to the nearest segment.
    """
    left, top, right, bottom = box
    out = np.zeros((bottom - top, right - left), np.float32)
    soft = max(radius * (1 - hardness), 1.0)
    inner, reach = radius - soft, max(radius, 1.0)
    count = points.shape[0] - 1
    segments, all_, squares = np.empty((count, 5)), np.arange(count), np.empty(count)
    for n in range(count):
        dx, dy = points[n + 1, 0] - points[n, 0], points[n + 1, 1] - points[n, 1]
        segments[n, 0], segments[n, 1], segments[n, 2], segments[n, 3] = (
            points[n, 0],
            points[n, 1],
            dx,
            dy,
        )
        segments[n, 4] = 1 / max(dx * dx + dy * dy, 1e-12)
    near, nearer = np.empty(count, np.int64), np.empty(count, np.int64)
    for y0 in range(top, bottom, BLOCK):
        for x0 in range(left, right, BLOCK):
            some, away = _nearby(
                segments,
                all_,
                count,
                x0 + BLOCK / 2 - 0.5,
                y0 + BLOCK / 2 - 0.5,
                BLOCK * HALF_DIAGONAL,
                near,
                squares,
            )
            if away > reach + BLOCK * HALF_DIAGONAL:
                continue
            for y1 in range(y0, min(y0 + BLOCK, bottom), SMALL_BLOCK):
                for x1 in range(x0, min(x0 + BLOCK, right), SMALL_BLOCK):
                    few, _ = _nearby(
                        segments,
                        near,
                        some,
                        x1 + SMALL_BLOCK / 2 - 0.5,
                        y1 + SMALL_BLOCK / 2 - 0.5,
                        SMALL_BLOCK * HALF_DIAGONAL,
                        nearer,
                        squares,
                    )
                    for y in range(y1, min(y1 + SMALL_BLOCK, bottom)):
                        for x in range(x1, min(x1 + SMALL_BLOCK, right)):
                            least = np.inf
                            for k in range(few):
                                least = min(least, _square_away(segments, nearer[k], x, y))
                            share = min(max(0.0, (math.sqrt(least) - inner) / soft), 1.0)
                            out[y - top, x - left] = np.float32(1 - share * share * (3 - 2 * share))
    return out
