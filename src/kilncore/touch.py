"""Touch-up: strokes that hide and bring back, replayed in order.

After every whole pack of strokes the weights are rounded to 16 bits; that rounding is part of what touch-up means. So the
weights of what was drawn before can be kept, and a new stroke costs what the first one did.
"""

import math

import numpy as np

from kilncore.box import Box, cut, tiles_over
from kilncore.kernels import kernel
from kilncore.strokes import PACK

TILE = (640, 400)
FULL = np.float32(65535)
BLOCK = 16  # px: within it only those segments are looked at that may be the nearest of some pixel
HARDEST = 1 - 1e-3


def touched(files, own, box: Box, assets, cache, key) -> np.ndarray:
    """(H, W) float32 weights of a box: 1 untouched; hiding t *= 1 - a, bringing back t += a (1 - t), where a is the stroke.

    files : the names of stroke files, which `assets` knows. own : output pixel of the whole grid to the item's own frame, as
    Frame.own gives it. cache : where weights are kept. key : of names and numbers.
    """
    out = np.empty((box.height, box.width), np.float32)
    for tile in tiles_over(box, TILE):
        here = tile.met(box)
        cut(out, box, here)[...] = _within(files, own, tile, here, assets, cache, key)
    return out


def _within(files, own, tile: Box, here: Box, assets, cache, key) -> np.ndarray:
    """(H, W) float32 weights of a part of a tile of the grid: what is settled is kept by whole tiles, the rest drawn anew."""
    packs = [number for number, name in enumerate(files, 1) if len(assets.strokes(name)) == PACK]
    settled = packs[-1] if packs else 0
    values = np.ones((here.height, here.width), np.float32)
    if settled:
        kept = cache.get((key("touch", files[:settled], own), tile), lambda: _settled(files, packs, own, tile, assets, cache.found, key))
        values = cut(kept, tile, here) / FULL
    return _replayed(values, files[settled:], own, here, assets)


def _settled(files, packs, own, tile: Box, assets, found, key) -> np.ndarray:
    """(H, W) uint16: the weights after the last whole pack, from those after the one before it where they are kept."""
    known, values = 0, np.ones((tile.height, tile.width), np.float32)
    if len(packs) > 1 and (before := found((key("touch", files[: packs[-2]], own), tile))) is not None:
        known, values = packs[-2], before / FULL
    for number in packs:
        if number > known:
            values = np.rint(_replayed(values, files[known:number], own, tile, assets) * FULL).astype(np.uint16)
            known, rounded = number, values
            values = rounded / FULL
    return rounded


def _replayed(values, files, own, box: Box, assets) -> np.ndarray:
    for name in files:
        for stroke in assets.strokes(name):
            points = _on_grid(stroke.points, own)
            radius = stroke.radius / math.hypot(own[0], own[1])
            here = _around(points, radius).met(box)
            if not here.empty:
                amount = _amounts(points, radius, min(stroke.hardness, HARDEST), tuple(here)) * np.float32(stroke.strength)
                part = cut(values, box, here)
                part += amount * (1 - part) if stroke.back else -amount * part
    return values


def _on_grid(points, own) -> np.ndarray:
    """Points of the item's own frame as output pixel indices."""
    a, b, c, d, e, f = own
    u, v = points[:, 0] - e, points[:, 1] - f
    det = a * d - b * c
    points = np.stack([(d * u - c * v) / det, (a * v - b * u) / det], 1)
    return np.repeat(points, 2, 0) if len(points) == 1 else points


def _around(points, radius) -> Box:
    if not (np.isfinite(points).all() and np.abs(points).max() < 2**40 and radius < 2**40):
        return Box(0, 0, 0, 0)
    (left, top), (right, bottom) = np.floor(points.min(0) - radius), np.ceil(points.max(0) + radius)
    return Box(int(left), int(top), int(right) + 1, int(bottom) + 1)


@kernel
def _away(points, n, x, y):
    """How far a place is from one segment of a line."""
    x0, y0 = points[n, 0], points[n, 1]
    dx, dy = points[n + 1, 0] - x0, points[n + 1, 1] - y0
    t = min(max(0.0, ((x - x0) * dx + (y - y0) * dy) / max(dx * dx + dy * dy, 1e-12)), 1.0)
    return math.hypot(x - x0 - t * dx, y - y0 - t * dy)


@kernel
def _amounts(points, radius, hardness, box):
    """How much the stroke covers: 1 within the hard part of the radius, then smoothly down to 0 at the radius.

    The edge is never less than a pixel wide. The distance is that to the nearest segment.
    """
    left, top, right, bottom = box
    out = np.zeros((bottom - top, right - left), np.float32)
    soft = max(radius * (1 - hardness), 1.0)
    inner, reach = radius - soft, max(radius, 1.0)
    segments = points.shape[0] - 1
    away, near = np.empty(segments), np.empty(segments, np.int64)
    diagonal = BLOCK * 0.7072
    for y0 in range(top, bottom, BLOCK):
        for x0 in range(left, right, BLOCK):
            nearest = np.inf
            for n in range(segments):
                away[n] = _away(points, n, x0 + (BLOCK - 1) / 2, y0 + (BLOCK - 1) / 2)
                nearest = min(nearest, away[n])
            if nearest > reach + diagonal:
                continue
            count = 0
            for n in range(segments):
                if away[n] <= nearest + 2 * diagonal:
                    near[count] = n
                    count += 1
            for y in range(y0, min(y0 + BLOCK, bottom)):
                for x in range(x0, min(x0 + BLOCK, right)):
                    least = np.inf
                    for k in range(count):
                        least = min(least, _away(points, near[k], x, y))
                    share = min(max(0.0, (least - inner) / soft), 1.0)
                    out[y - top, x - left] = np.float32(1 - share * share * (3 - 2 * share))
    return out
