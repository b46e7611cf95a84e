"""Touch-up: strokes that hide and bring back, replayed in order.

After every whole pack of strokes the weights are rounded to 16 bits; that rounding is part of what
touch-up means. So the weights of what was drawn before can be kept, and a new stroke costs what the
first one did.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from kilncore.compiled.kernels import kernel, subroutine
from kilncore.geometry.box import EVERYWHERE, Box, crop, tiles_over
from kilncore.graph.keys import key_of
from kilncore.graph.plane import TilePlane
from kilncore.graph.protocols import Assets, NodeReader
from kilncore.perspective.projection import Projection
from kilncore.pixels.pixel_format import PLANE, PlaneFormat
from kilncore.strokes import PACK

TILE = (640, 400)
FULL = np.float32(65535)
FLAT_PIXELS = 4_000_000  # of a page on which strokes in perspective are drawn
BLOCK, SMALL_BLOCK, HALF_DIAGONAL = (
    16,
    4,
    0.7072,
)  # px: in each only those segments are looked at that may be nearest somewhere
HARDEST = 1 - 1e-3


@dataclass(frozen=True)
class StrokesPlane(TilePlane):
    """The weights of stroke files, replayed in order in an item's own frame: 1 untouched; hiding t
    *= 1 - a, bringing back t += a (1 - t), where a is the stroke.

    files : the names of stroke files. own : output pixel of the whole grid to the item's own frame,
    as Frame.own gives it. projection : of what the item lies on, from flat output px, that `own` is
    of: the weights are drawn flat, and read there.
    """

    files: tuple[str, ...]
    own: tuple[float, ...]
    projection: Projection | None = None
    key: str = field(init=False)
    extent: Box = EVERYWHERE

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("strokes", self.files, self.own, self.projection))

    def pixel_format(self, assets: Assets | None, *formats: Any) -> PlaneFormat:
        """As it is: only what whole packs of strokes leave is rounded."""
        return PLANE

    def tile(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(1, H, W) float32 of a tile of the grid, or a part of one."""
        if self.projection is not None:
            return _laid(self.files, self.own, self.projection, box, reader.assets)[None]
        return _within(self.files, self.own, box, reader.assets, reader.cache)[None]


def _laid(files: tuple, own: tuple, projection: Projection, here: Box, assets: Any) -> np.ndarray:
    """(H, W) float32 weights within a tile, of strokes that are drawn flat: all of those behind the
    tile, smaller where they are many.
    """
    x, y, seen = projection.flat(here)
    there = _reached(files, own, assets).intersection(
        Box(*(int(n) for n in (x.min() - 2, y.min() - 2, x.max() + 3, y.max() + 3)))
    )
    if there.empty or not seen.any():
        return np.ones((here.height, here.width), np.float32)
    halved = max(0, math.ceil(math.log2(max(there.width * there.height / FLAT_PIXELS, 1)) / 2))
    unit = 2**halved
    a, b, c, d, e, f = own
    # index i of the smaller page is the middle of its px
    shift = (unit - 1) / 2
    smaller = (unit * n for n in (a, b, c, d))
    own = (*smaller, e + (a + c) * shift, f + (b + d) * shift)
    box = Box(*(n // unit for n in there)).expanded(1)
    flat = _replayed(np.ones((box.height, box.width), np.float32), files, own, box, assets)
    return _read(flat, x / unit - box.left - 0.5, y / unit - box.top - 0.5)


def _reached(files: tuple, own: tuple, assets: Any) -> Box:
    """The flat px that strokes reach."""
    reached, unit = Box(0, 0, 0, 0), 1 / math.hypot(own[0], own[1])
    for name in files:
        for stroke in assets.strokes(name):
            reach = max(stroke.radius * unit, 1) + 1
            reached = reached.union(_around(_on_grid(stroke.points, own), reach))
    return reached


@kernel
def _read(plane: np.ndarray, u: np.ndarray, v: np.ndarray):
    """(H, W) float32 of a plane between its pixels; 1 beyond it."""
    tall, wide = plane.shape
    out = np.ones(u.shape, np.float32)
    for y in range(u.shape[0]):
        for x in range(u.shape[1]):
            if not (u[y, x] >= 0 and v[y, x] >= 0 and u[y, x] < wide - 1 and v[y, x] < tall - 1):
                continue
            i, j = int(u[y, x]), int(v[y, x])
            s, t = np.float32(u[y, x] - i), np.float32(v[y, x] - j)
            near = plane[j, i] + s * (plane[j, i + 1] - plane[j, i])
            far = plane[j + 1, i] + s * (plane[j + 1, i + 1] - plane[j + 1, i])
            out[y, x] = near + t * (far - near)
    return out


def _within(files: tuple, own: tuple, here: Box, assets: Any, cache: Any) -> np.ndarray:
    """(H, W) float32 weights within a tile of the grid: what is settled is kept by whole tiles, the
    rest drawn anew.
    """
    packs = [number for number, name in enumerate(files, 1) if len(assets.strokes(name)) == PACK]
    settled = packs[-1] if packs else 0
    values = np.ones((here.height, here.width), np.float32)
    if settled:
        (tile,) = tiles_over(here, TILE)
        kept = cache.get(
            (key_of("touch", files[:settled], own), tile),
            lambda: _settled(files, packs, own, tile, assets, cache.find),
        )
        values = crop(kept, tile, here) / FULL
    return _replayed(values, files[settled:], own, here, assets)


def _settled(
    files: tuple, packs: list, own: tuple, tile: Box, assets: Any, find: Callable
) -> np.ndarray:
    """(H, W) uint16: the weights after the last whole pack, from those after the one before it
    where they are kept.
    """
    known, values = 0, np.ones((tile.height, tile.width), np.float32)
    if (
        len(packs) > 1
        and (before := find((key_of("touch", files[: packs[-2]], own), tile))) is not None
    ):
        known, values = packs[-2], before / FULL
    for number in packs:
        if number > known:
            values = np.rint(
                _replayed(values, files[known:number], own, tile, assets) * FULL
            ).astype(np.uint16)
            known, rounded = number, values
            values = rounded / FULL
    return rounded


def _replayed(values: np.ndarray, files: tuple, own: tuple, box: Box, assets: Any) -> np.ndarray:
    for name in files:
        for stroke in assets.strokes(name):
            points = _on_grid(stroke.points, own)
            radius = stroke.radius / math.hypot(own[0], own[1])
            here = _around(points, radius).intersection(box)
            if not here.empty:
                amount = _amounts(
                    points, radius, min(stroke.hardness, HARDEST), tuple(here)
                ) * np.float32(stroke.strength)
                part = crop(values, box, here)
                part += amount * (1 - part) if stroke.back else -amount * part
    return values


def _on_grid(points: np.ndarray, own: tuple) -> np.ndarray:
    """Points of the item's own frame as output pixel indices."""
    a, b, c, d, e, f = own
    u, v = points[:, 0] - e, points[:, 1] - f
    det = a * d - b * c
    points = np.stack([(d * u - c * v) / det, (a * v - b * u) / det], 1)
    return np.repeat(points, 2, 0) if len(points) == 1 else points


def _around(points: np.ndarray, radius: float) -> Box:
    if not (np.isfinite(points).all() and np.abs(points).max() < 2**40 and radius < 2**40):
        return Box(0, 0, 0, 0)
    (left, top), (right, bottom) = np.floor(points.min(0) - radius), np.ceil(points.max(0) + radius)
    return Box(int(left), int(top), int(right) + 1, int(bottom) + 1)


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
