"""Small things strewn over a texture: pits, fibres, scratches, cracks. All wrap at the edges."""

from collections.abc import Callable

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.halves import by_rows

MOST_COVER, THINNEST = 3.0, 2.0  # times: more lines are seen no better; px, that a line counts for
LONGEST, THICKEST = 4.0, 1 / 3  # of the picture's sides: how long and how thick lines may be
LOBES, LOBE = 6, 0.2  # of an outline: how many, and how far the first goes, of the radius
CRACK_STEP = 0.5  # px from one change of heading to the next


@kernel
def pits(
    width: int,
    height: int,
    xs: np.ndarray,
    ys: np.ndarray,
    radii: np.ndarray,
    evens: np.ndarray,
    odds: np.ndarray,
):
    """(height, width) float32 depth, 0..1, of roundish pits. evens, odds : (N, LOBES), shares of
    the radius: an outline is 1 + sum of evens cos(k a) + odds sin(k a), k from 2.
    """
    out = np.zeros((height, width), np.float32)
    for n in range(xs.size):
        reach = int(radii[n] * 1.8) + 2
        for j in range(-reach, reach + 1):
            for i in range(-reach, reach + 1):
                dx, dy = i - (xs[n] - np.floor(xs[n])), j - (ys[n] - np.floor(ys[n]))
                far = np.sqrt(dx * dx + dy * dy)
                if far >= 1.8 * radii[n] + 1:
                    continue
                one_x, one_y = dx / max(far, 1e-6), dy / max(far, 1e-6)
                cos, sin, edge = one_x, one_y, 1.0
                for k in range(evens.shape[1]):
                    cos, sin = cos * one_x - sin * one_y, sin * one_x + cos * one_y
                    edge += evens[n, k] * cos + odds[n, k] * sin
                depth = 1 - far / max(radii[n] * edge, 0.3)
                if depth > 0:
                    y, x = (int(ys[n]) + j) % height, (int(xs[n]) + i) % width
                    out[y, x] = max(out[y, x], np.float32(min(1.0, 1.6 * depth)))
    return out


def _laid(fields: Fields, draw: Callable, *each: np.ndarray, told: tuple = ()) -> np.ndarray:
    """(H, W) float32 of things that lie over one another, the strongest wins: on all threads, each
    a stretch of them.
    """
    size = fields.width, fields.height
    drawn = by_rows(
        len(each[0]), lambda first, end: draw(*size, *(one[first:end] for one in each), *told)
    )
    for one in drawn[1:]:
        np.maximum(drawn[0], one, out=drawn[0])
    return drawn[0]


def strewn_pits(
    fields: Fields, per_megapixel: float, least: float, most: float, power: float = 2.2
):
    """Depth of pits whose radii follow a power law from least to most px, none of them round."""
    rng, scale = fields.rng, fields.scale
    count = fields.count(per_megapixel)
    radii = power_law(rng, count, least, most, power) * scale
    falls = LOBE / np.arange(2, LOBES + 2) ** 1.2
    evens, odds = rng.normal(0, 1, (2, count, LOBES)).clip(-2, 2) * falls
    places = rng.random((2, count)) * [[fields.width], [fields.height]]
    Fields.told()
    return _laid(fields, pits, *places, radii, evens, odds)


def power_law(
    rng: np.random.Generator, count: int, least: float, most: float, power: float
) -> np.ndarray:
    """Sizes from least to most, whose number falls with their size to that power, above 1."""
    p = 1 - power
    return (least**p + rng.random(count) * (most**p - least**p)) ** (1 / p)


@kernel
def lines(
    width: int,
    height: int,
    xs: np.ndarray,
    ys: np.ndarray,
    angles: np.ndarray,
    bends: np.ndarray,
    lengths: np.ndarray,
    widths: np.ndarray,
    strengths: np.ndarray,
):
    """(height, width) float32: soft curved lines, the strongest wins. bends : radians of turn over
    the length.
    """
    out = np.zeros((height, width), np.float32)
    for n in range(xs.size):
        x, y, angle = xs[n], ys[n], angles[n]
        # thick lines are drawn of fewer discs: their edges wave by less than an eighth of a px
        stride = max(0.5, 0.3 * widths[n])
        steps = int(lengths[n] / stride) + 1
        reach = int(widths[n]) + 1
        for k in range(steps):
            fade = np.sin(np.pi * (k + 0.5) / steps)
            half = max(widths[n] * fade, 0.35)
            for j in range(-reach, reach + 1):
                for i in range(-reach, reach + 1):
                    px, py = np.floor(x) + i, np.floor(y) + j
                    d = np.sqrt((px + 0.5 - x) ** 2 + (py + 0.5 - y) ** 2)
                    value = strengths[n] * min(max(half + 0.5 - d, 0.0), 1.0)
                    row, column = int(py) % height, int(px) % width
                    out[row, column] = max(out[row, column], np.float32(value))
            x += stride * np.cos(angle)
            y += stride * np.sin(angle)
            angle += bends[n] / steps
    return out


def _bounded(
    fields: Fields, per_megapixel: float, length: float, thickness: float
) -> tuple[float, float, int]:
    """(length, half-thickness, count) of lines that are worth drawing: none longer or thicker than
    the picture bears, and no more than cover it a few times. The same at any resolution.
    """
    sides = fields.width / fields.scale, fields.height / fields.scale
    length = min(length, LONGEST * max(sides))
    thickness = min(thickness, THICKEST * min(sides))
    each = length * max(2 * thickness, THINNEST)
    most = MOST_COVER * sides[0] * sides[1] / each
    return length, thickness, max(1, min(fields.count(per_megapixel), int(most)))


def strewn_lines(
    fields: Fields,
    per_megapixel: float,
    length: float,
    thickness: float,
    angle: float | None = None,
    spread: float = 0.3,
    bend: float = 0.5,
):
    """Lines of about that length and half-thickness, px; at any angle, or around one in radians."""
    rng, scale = fields.rng, fields.scale
    length, thickness, count = _bounded(fields, per_megapixel, length, thickness)
    angles = rng.random(count) * 2 * np.pi if angle is None else rng.normal(angle, spread, count)
    places = rng.random((2, count)) * [[fields.width], [fields.height]]
    bends = rng.normal(0, bend, count)
    lengths = scale * length * rng.lognormal(0, 0.5, count)
    halves = scale * thickness * rng.lognormal(0, 0.3, count)
    Fields.told()
    return _laid(
        fields,
        lines,
        *places,
        angles,
        bends,
        lengths,
        halves,
        rng.random(count) ** 0.5,
    )


@kernel
def walks(
    width: int,
    height: int,
    xs: np.ndarray,
    ys: np.ndarray,
    headings: np.ndarray,
    lengths: np.ndarray,
    halves: np.ndarray,
    stride: float,
):
    """(height, width) float32: distance-like darkness, 0..1, of lines that change heading at every
    stride, px.

    headings, halves : (N, S) radians, and half-thickness in px, for each step. lengths : (N,) steps
    used.
    """
    out = np.zeros((height, width), np.float32)
    times = int(np.ceil(stride / 0.5))
    for n in range(xs.size):
        x, y = xs[n], ys[n]
        for k in range(lengths[n]):
            half = halves[n, k]
            reach = int(half) + 2
            for _ in range(times):
                for j in range(-reach, reach + 1):
                    for i in range(-reach, reach + 1):
                        px, py = np.floor(x) + i, np.floor(y) + j
                        d = np.sqrt((px + 0.5 - x) ** 2 + (py + 0.5 - y) ** 2)
                        row, column = int(py) % height, int(px) % width
                        out[row, column] = max(
                            out[row, column], np.float32(min(max(half + 0.6 - d, 0.0), 1.0))
                        )
                x += stride / times * np.cos(headings[n, k])
                y += stride / times * np.sin(headings[n, k])
    return out


def strewn_cracks(fields: Fields, per_megapixel: float, length: float, thickness: float):
    """Cracks: lines that keep their general direction, jerk from grain to grain and thin out."""
    rng, scale = fields.rng, fields.scale
    count = max(1, rng.poisson(per_megapixel * fields.megapixels)) if per_megapixel else 0
    Fields.told()
    if not count:
        return np.zeros((fields.height, fields.width), np.float32)
    steps = int(length * 4)
    used = np.minimum((length * rng.lognormal(0, 0.5, count) * 2).astype(np.int64), steps)
    start = rng.random((2, count)) * [[fields.width], [fields.height]]
    drift = np.cumsum(rng.normal(0, 0.016, (count, steps)), 1)
    jerks = np.repeat(rng.normal(0, 0.62, (count, steps // 7 + 1)), 7, 1)[:, :steps]
    headings = rng.random((count, 1)) * 2 * np.pi + drift + jerks
    taper = np.clip(1 - np.arange(steps)[None] / used[:, None], 0, 1) ** 0.7
    uneven = np.repeat(rng.uniform(0.35, 1.25, (count, steps // 9 + 1)), 9, 1)[:, :steps]
    halves = scale * thickness * taper * uneven
    stride = CRACK_STEP * scale
    return _laid(fields, walks, *start, headings, used, halves, told=(stride,))


def strewn_arcs(fields: Fields, per_megapixel: float, length: float, thickness: float):
    """Arcs as a cloth leaves them that goes round: many share a middle."""
    rng, scale = fields.rng, fields.scale
    length, thickness, count = _bounded(fields, per_megapixel, length, thickness)
    middles = rng.random((2, fields.count(3))) * [[fields.width], [fields.height]]
    mine = rng.integers(0, middles.shape[1], count)
    radii = scale * length * rng.uniform(0.25, 1.5, count)
    turns = rng.random(count) * 2 * np.pi
    xs = middles[0, mine] + radii * np.cos(turns)
    ys = middles[1, mine] + radii * np.sin(turns)
    lengths = np.minimum(scale * length * rng.lognormal(0, 0.4, count), 1.3 * radii)
    bends = lengths / radii
    halves = scale * thickness * rng.lognormal(0, 0.3, count)
    strengths = rng.random(count) ** 0.5
    Fields.told()
    return _laid(
        fields,
        lines,
        xs % fields.width,
        ys % fields.height,
        turns + np.pi / 2,
        bends,
        lengths,
        halves,
        strengths,
    )


def strewn_hairs(fields: Fields, per_megapixel: float, length: float, thickness: float):
    """Hairs: long lines whose bend changes along them."""
    rng, scale = fields.rng, fields.scale
    count, steps = fields.count(per_megapixel), int(length * 4)
    used = np.minimum((2 * length * rng.lognormal(0, 0.5, count)).astype(np.int64), steps)
    start = rng.random((2, count)) * [[fields.width], [fields.height]]
    turning = rng.normal(0, 1, (count, steps // 60 + 2)) * 0.012
    at = np.linspace(0, turning.shape[1] - 1.001, steps)
    low, part = at.astype(int), (at % 1)[None]
    bends = turning[:, low] * (1 - part) + turning[:, low + 1] * part
    headings = rng.random((count, 1)) * 2 * np.pi + np.cumsum(bends, 1)
    halves = np.broadcast_to(scale * thickness * rng.lognormal(0, 0.25, (count, 1)), headings.shape)
    Fields.told()
    return _laid(fields, walks, *start, headings, used, halves.copy(), told=(CRACK_STEP * scale,))
