"""How a result meets what it lands on: paint, cover, remake, in one pass over memory each.

Pictures are (4, H, W) float32, premultiplied, or (1, H, W), the alpha of a picture of one colour. A source may also be
opaque: (3, H, W) colour or (1, H, W) grey. `weight` is 0..1, a number or an (H, W) array.
Sources: W3C Compositing and Blending Level 1 (source-over, source-atop with blending); CSS Compositing Level 2
(plus-lighter); the rest is fixed in docs/engine.md.
"""

import numpy as np

from kilncore.kernels import kernel, part
from kilncore.light import DECODING, ENCODING, TABLES, look_up
from kilncore.modes import NORMAL, PLUS_LIGHTER, blend, mode_named

ZERO, ONE = np.float32(0), np.float32(1)
FAINT = np.float32(1e-6)
_NO_WEIGHTS = np.empty((0, 0), np.float32)


def paint(backdrop, source, mode="normal", weight=1.0, kept_to_art=False, linear=False) -> np.ndarray:
    """Lay `source` over `backdrop`: source-over, or source-atop (alpha unchanged) when kept to the art.

    linear : mix in linear light instead of encoded values.
    """
    return _paint(_solid(backdrop), _solid(source), *_split(weight), mode_named(mode).number, kept_to_art, linear, TABLES)


def remake(picture, made, mode="normal", weight=1.0, linear=False) -> np.ndarray:
    """Go from `picture` towards `made`, which keeps its alpha and takes its colour by the blend mode."""
    if mode == "normal" and not linear:
        return _towards(_solid(picture), _solid(made), *_split(weight))
    return _remake(_solid(picture), _solid(made), *_split(weight), mode_named(mode).number, linear, TABLES)


def cover(picture, shown, weight=1.0) -> np.ndarray:
    """Take the picture (any number of planes) away where `shown` (H, W), 0..1, is low."""
    return _cover(_solid(picture), _solid(shown), *_split(weight))


def coloured(alpha, colour) -> np.ndarray:
    """(1, H, W) alpha in one straight colour, as (4, H, W)."""
    return _coloured(_solid(alpha), *(np.float32(c) for c in colour))


def clean(picture) -> np.ndarray:
    """Hold alpha in 0..1 and colour in 0..alpha, in place."""
    np.clip(picture[3], 0, 1, out=picture[3])
    np.clip(picture[:3], 0, picture[3], out=picture[:3])
    return picture


def _solid(planes) -> np.ndarray:
    """float32 in one stretch of memory: each other layout would be compiled for itself."""
    return np.ascontiguousarray(planes, np.float32)


def _split(weight):
    """(array, number): one of them does nothing."""
    if np.ndim(weight) == 0:
        return _NO_WEIGHTS, np.float32(weight)
    return np.ascontiguousarray(weight, np.float32), ONE


@part
def _straight(planes, y, colour):
    """The straight colour of a row of premultiplied planes, (3 W,): 0 where next to nothing is there."""
    width = planes.shape[2]
    for c in range(3):
        for x in range(width):
            a = planes[3, y, x]
            value = min(planes[c, y, x] / max(a, FAINT), ONE)
            colour[c * width + x] = value if a > FAINT else ZERO


@part
def _source_row(source, y, weights, weight, colour, alpha):
    """Fill the row's straight colour and its weighted alpha; True if any of it is there."""
    channels, width = source.shape[0], alpha.size
    if channels == 4:
        _straight(source, y, colour)
        for x in range(width):
            alpha[x] = weight * source[3, y, x]
    else:
        for x in range(width):
            alpha[x] = weight
        for c in range(3):
            plane = c if channels == 3 else 0
            for x in range(width):
                colour[c * width + x] = source[plane, y, x]
    if weights.size:
        for x in range(width):
            alpha[x] *= weights[y, x]
    there = 0
    for x in range(width):
        there += alpha[x] > ZERO
    return there > 0


@part
def _blended(backdrop, y, mode, linear, tables, cb, cs, mixed):
    """Make cs the colour to lay down: cs + ab (B(cb, cs) - cs), in linear light if so asked; cb the backdrop's."""
    width = backdrop.shape[2]
    blend(mode, cb, cs, mixed)
    if linear:
        look_up(cb, tables[DECODING])
        look_up(cs, tables[DECODING])
        look_up(mixed, tables[DECODING])
    for c in range(3):
        for x in range(width):
            i = c * width + x
            cs[i] += backdrop[3, y, x] * (mixed[i] - cs[i])


@part
def _encoded(out, y, colour, tables):
    """Bring a row from premultiplied linear light back to premultiplied encoded values."""
    width = out.shape[2]
    _straight(out, y, colour)
    look_up(colour, tables[ENCODING])
    for c in range(3):
        for x in range(width):
            out[c, y, x] = colour[c * width + x] * out[3, y, x]


@part
def _laid(backdrop, y, alpha, cs, lighter, kept, out):
    width = alpha.size
    for x in range(width):
        below, a = backdrop[3, y, x], alpha[x]
        over = min(a + below if lighter else a + below * (ONE - a), ONE)
        out[3, y, x] = below if kept else over
    for c in range(3):
        for x in range(width):
            a = alpha[x]
            above = a * backdrop[3, y, x] if kept else a
            left = ONE if lighter else ONE - a
            value = above * cs[c * width + x] + left * out[c, y, x]
            out[c, y, x] = min(max(value, ZERO), out[3, y, x])


@part
def _copied(planes, y, out):
    for c in range(planes.shape[0]):
        for x in range(planes.shape[2]):
            out[c, y, x] = planes[c, y, x]


@kernel
def _paint(backdrop, source, weights, weight, mode, kept, linear, tables):
    _, height, width = backdrop.shape
    out = np.empty((4, height, width), np.float32)
    cb, cs, mixed = np.empty(3 * width, np.float32), np.empty(3 * width, np.float32), np.empty(3 * width, np.float32)
    alpha = np.empty(width, np.float32)
    for y in range(height):
        _copied(backdrop, y, out)
        if not _source_row(source, y, weights, weight, cs, alpha):
            continue
        if mode != NORMAL or linear:
            _straight(backdrop, y, cb)
            _blended(backdrop, y, mode, linear, tables, cb, cs, mixed)
        if linear:
            for c in range(3):
                for x in range(width):
                    out[c, y, x] = cb[c * width + x] * backdrop[3, y, x]
        _laid(backdrop, y, alpha, cs, mode == PLUS_LIGHTER, kept, out)
        if linear:
            _encoded(out, y, cb, tables)
    return out


@kernel
def _remake(picture, made, weights, weight, mode, linear, tables):
    _, height, width = picture.shape
    out = np.empty((4, height, width), np.float32)
    cb, cs, mixed = np.empty(3 * width, np.float32), np.empty(3 * width, np.float32), np.empty(3 * width, np.float32)
    alpha, left = np.empty(width, np.float32), np.empty(width, np.float32)
    for y in range(height):
        _source_row(made, y, weights, weight, cs, alpha)
        _straight(picture, y, cb)
        _blended(picture, y, mode, linear, tables, cb, cs, mixed)
        for x in range(width):
            left[x] = (ONE - weight * weights[y, x] if weights.size else ONE - weight) * picture[3, y, x]
        for x in range(width):
            out[3, y, x] = min(max(left[x] + alpha[x], ZERO), ONE)
        for c in range(3):
            for x in range(width):
                value = left[x] * cb[c * width + x] + alpha[x] * cs[c * width + x]
                out[c, y, x] = min(max(value, ZERO), out[3, y, x])
        if linear:
            _encoded(out, y, cb, tables)
    return out


@kernel
def _towards(picture, made, weights, weight):
    channels, height, width = picture.shape
    out = np.empty((channels, height, width), np.float32)
    for c in range(channels):
        for y in range(height):
            for x in range(width):
                w = weight * weights[y, x] if weights.size else weight
                out[c, y, x] = picture[c, y, x] + w * (made[c, y, x] - picture[c, y, x])
    return out


@kernel
def _cover(picture, shown, weights, weight):
    channels, height, width = picture.shape
    out = np.empty((channels, height, width), np.float32)
    factor = np.empty(width, np.float32)
    for y in range(height):
        if weights.size:
            for x in range(width):
                factor[x] = ONE - weight * weights[y, x] * (ONE - shown[y, x])
        else:
            for x in range(width):
                factor[x] = ONE - weight * (ONE - shown[y, x])
        for c in range(channels):
            for x in range(width):
                out[c, y, x] = picture[c, y, x] * factor[x]
    return out


@kernel
def _coloured(alpha, r, g, b):
    _, height, width = alpha.shape
    out = np.empty((4, height, width), np.float32)
    for y in range(height):
        for x in range(width):
            a = alpha[0, y, x]
            out[0, y, x], out[1, y, x], out[2, y, x], out[3, y, x] = r * a, g * a, b * a, a
    return out
