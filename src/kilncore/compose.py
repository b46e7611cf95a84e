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
        if np.ndim(weight) == 0 and weight == 1:
            return made
        return _towards(_solid(picture), _solid(made), *_split(weight))
    return _remake(_solid(picture), _solid(made), *_split(weight), mode_named(mode).number, linear, TABLES)


def cover(picture, shown, weight=1.0) -> np.ndarray:
    """Take the picture (any number of planes) away where `shown` (H, W), 0..1, is low."""
    return _cover(_solid(picture), _solid(shown), *_split(weight))


def coloured(alpha, colour) -> np.ndarray:
    """(1, H, W) alpha in one straight colour, as (4, H, W)."""
    return _coloured(_solid(alpha), *(np.float32(c) for c in colour))


def blank(plane) -> bool:
    """Whether an (H, W) plane is 0 all over."""
    return _blank(_solid(plane))


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


# Rows are read by plain indices into whole planes and worked on in arrays of their own: a view of a row costs more than
# a hundred of its pixels, and an index that is not plainly above 0 is not vectorised.


@part
def _three(width):
    return np.empty(width, np.float32), np.empty(width, np.float32), np.empty(width, np.float32)


@part
def _taken(planes, c, y, out):
    for x in range(out.size):
        out[x] = planes[c, y, x]


@part
def _divided(planes, c, y, inverse, out):
    for x in range(out.size):
        out[x] = min(planes[c, y, x] * inverse[x], ONE)


@part
def _straight(planes, y, inverse, colour):
    """The straight colour of a row of premultiplied planes, three arrays: 0 where next to nothing is there."""
    less = 0
    for x in range(inverse.size):
        less += planes[3, y, x] != ONE
    if less == 0:
        _taken(planes, 0, y, colour[0])
        _taken(planes, 1, y, colour[1])
        _taken(planes, 2, y, colour[2])
        return
    for x in range(inverse.size):
        a = planes[3, y, x]
        inverse[x] = ONE / max(a, FAINT) if a > FAINT else ZERO
    _divided(planes, 0, y, inverse, colour[0])
    _divided(planes, 1, y, inverse, colour[1])
    _divided(planes, 2, y, inverse, colour[2])


@part
def _source_row(source, y, weights, weight, inverse, colour, alpha):
    """Fill the row's straight colour and its weighted alpha; True if any of it is there."""
    channels = source.shape[0]
    for x in range(alpha.size):
        alpha[x] = weight
    if channels == 4:
        for x in range(alpha.size):
            alpha[x] *= source[3, y, x]
    if weights.size:
        for x in range(alpha.size):
            alpha[x] *= weights[y, x]
    there = 0
    for x in range(alpha.size):
        there += alpha[x] > ZERO
    if there == 0:
        return False
    if channels == 4:
        _straight(source, y, inverse, colour)
    else:
        _taken(source, 0, y, colour[0])
        _taken(source, 1 if channels == 3 else 0, y, colour[1])
        _taken(source, 2 if channels == 3 else 0, y, colour[2])
    return True


@part
def _mix(below, y, source, blended):
    """The colour to lay down, into `source`: cs + ab (B(cb, cs) - cs)."""
    for x in range(source.size):
        source[x] += below[3, y, x] * (blended[x] - source[x])


@part
def _blended(backdrop, y, mode, linear, tables, cb, cs, mixed):
    """Make cs the colour to lay down, in linear light if so asked; cb the backdrop's."""
    blend(mode, cb, cs, mixed)
    if linear:
        for rows in (cb, cs, mixed):
            look_up(rows[0], tables[DECODING])
            look_up(rows[1], tables[DECODING])
            look_up(rows[2], tables[DECODING])
    _mix(backdrop, y, cs[0], mixed[0])
    _mix(backdrop, y, cs[1], mixed[1])
    _mix(backdrop, y, cs[2], mixed[2])


@part
def _multiplied(planes, c, y, row, out):
    for x in range(row.size):
        out[c, y, x] = row[x] * planes[3, y, x]


@part
def _encoded(out, y, inverse, colour, tables):
    """Bring a row from premultiplied linear light back to premultiplied encoded values."""
    _straight(out, y, inverse, colour)
    for c in range(3):
        look_up(colour[c], tables[ENCODING])
        _multiplied(out, c, y, colour[c], out)


@part
def _sum(above, colour, left, backdrop, c, y, total, out):
    for x in range(above.size):
        value = above[x] * colour[x] + left[x] * backdrop[c, y, x]
        out[c, y, x] = min(max(value, ZERO), total[x])


@part
def _laid(backdrop, y, alpha, left, total, cs, lighter, kept, out):
    """source-over or source-atop of a straight colour: above * cs + left * backdrop, held in 0..alpha."""
    for x in range(alpha.size):
        below, a = backdrop[3, y, x], alpha[x]
        over = min(a + below if lighter else a + below * (ONE - a), ONE)
        total[x] = below if kept else over
    for x in range(alpha.size):
        out[3, y, x] = total[x]
    for x in range(alpha.size):
        left[x] = ONE if lighter else ONE - alpha[x]
    if kept:
        for x in range(alpha.size):
            alpha[x] *= backdrop[3, y, x]
    _sum(alpha, cs[0], left, backdrop, 0, y, total, out)
    _sum(alpha, cs[1], left, backdrop, 1, y, total, out)
    _sum(alpha, cs[2], left, backdrop, 2, y, total, out)


@part
def _untouched(backdrop, y, alpha, out):
    """Where nothing landed nothing has been through the tables, as in rows where nothing lands at all."""
    for c in range(4):
        for x in range(alpha.size):
            out[c, y, x] = backdrop[c, y, x] if alpha[x] == ZERO else out[c, y, x]


@kernel
def _paint(backdrop, source, weights, weight, mode, kept, linear, tables):
    _, height, width = backdrop.shape
    out = np.empty((4, height, width), np.float32)
    beneath = np.empty((4, height if linear else 1, width), np.float32)
    cb, cs, mixed = _three(width), _three(width), _three(width)
    alpha, inverse, left = _three(width)
    for y in range(height):
        if not _source_row(source, y, weights, weight, inverse, cs, alpha):
            for c in range(4):
                for x in range(width):
                    out[c, y, x] = backdrop[c, y, x]
            continue
        if mode != NORMAL or linear:
            _straight(backdrop, y, inverse, cb)
            _blended(backdrop, y, mode, linear, tables, cb, cs, mixed)
        if linear:
            for x in range(width):
                beneath[3, y, x] = backdrop[3, y, x]
            for c in range(3):
                _multiplied(backdrop, c, y, cb[c], beneath)
            _laid(beneath, y, alpha, left, inverse, cs, mode == PLUS_LIGHTER, kept, out)
            _encoded(out, y, inverse, cb, tables)
            _untouched(backdrop, y, alpha, out)
        else:
            _laid(backdrop, y, alpha, left, inverse, cs, mode == PLUS_LIGHTER, kept, out)
    return out


@kernel
def _remake(picture, made, weights, weight, mode, linear, tables):
    _, height, width = picture.shape
    out = np.empty((4, height, width), np.float32)
    cb, cs, mixed = _three(width), _three(width), _three(width)
    alpha, inverse, left = _three(width)
    for y in range(height):
        if not _source_row(made, y, weights, weight, inverse, cs, alpha):
            cs[0][:], cs[1][:], cs[2][:] = ZERO, ZERO, ZERO
        _straight(picture, y, inverse, cb)
        _blended(picture, y, mode, linear, tables, cb, cs, mixed)
        for x in range(width):
            w = weight * weights[y, x] if weights.size else weight
            left[x] = (ONE - w) * picture[3, y, x]
        for x in range(width):
            inverse[x] = min(max(left[x] + alpha[x], ZERO), ONE)
        for x in range(width):
            out[3, y, x] = inverse[x]
        for c in range(3):
            back, colour = cb[c], cs[c]
            for x in range(width):
                value = left[x] * back[x] + alpha[x] * colour[x]
                out[c, y, x] = min(max(value, ZERO), inverse[x])
        if linear:
            _encoded(out, y, inverse, cb, tables)
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


@kernel
def _blank(plane):
    for y in range(plane.shape[0]):
        there = 0
        for x in range(plane.shape[1]):
            there += plane[y, x] != ZERO
        if there:
            return False
    return True
