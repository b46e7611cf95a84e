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

from kilncore.compiled.kernels import kernel
from kilncore.geometry.box import EVERYWHERE, Box, crop, tiles_over
from kilncore.graph.keys import key_of
from kilncore.graph.plane import TilePlane
from kilncore.graph.protocols import Assets, NodeReader
from kilncore.perspective.projection import Projection
from kilncore.pixels.pixel_format import PLANE, PlaneFormat
from kilncore.strokes import PACK
from kilncore.strokes.covering import covered, reach_of

TILE = (640, 400)
FULL = np.float32(65535)
FEW = 2  # loose strokes that are drawn again at each look
FLAT_PIXELS = 4_000_000  # of a page on which strokes in perspective are drawn


@dataclass(frozen=True)
class StrokesPlane(TilePlane):
    """The weights of stroke files, replayed in order in an item's own frame: 1 untouched; hiding t
    *= 1 - a, bringing back t += a (1 - t), where a is the stroke. empty : 0 untouched, and a stroke
    adds where it would hide.

    files : the names of stroke files. own : output pixel of the whole grid to the item's own frame,
    as Frame.own gives it. projection : of what the item lies on, from flat output px, that `own` is
    of: the weights are drawn flat, and read there.
    """

    files: tuple[str, ...]
    own: tuple[float, ...]
    projection: Projection | None = None
    empty: bool = False
    key: str = field(init=False)
    extent: Box = EVERYWHERE

    def __post_init__(self):
        object.__setattr__(
            self, "key", key_of("strokes", self.files, self.own, self.projection, self.empty)
        )

    def pixel_format(self, assets: Assets | None, *formats: Any) -> PlaneFormat:
        """As it is: only what whole packs of strokes leave is rounded."""
        return PLANE

    def tile(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(1, H, W) float32 of a tile of the grid, or a part of one."""
        if self.projection is not None:
            shown = _laid(self.files, self.own, self.projection, box, reader.assets)[None]
        else:
            shown = weights_within(self.files, self.own, box, reader.assets, reader.cache)[None]
        return 1 - shown if self.empty else shown  # to add is to hide what is not there


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
    reached = Box(0, 0, 0, 0)
    for name in files:
        for stroke in assets.strokes(name):
            reached = reached.union(reach_of(stroke, own).expanded(1))
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


def weights_within(files: tuple, own: tuple, here: Box, assets: Any, cache: Any) -> np.ndarray:
    """(H, W) float32 weights within a tile of the grid: what is settled is kept by whole tiles, the
    rest drawn anew.
    """
    packs = [number for number, name in enumerate(files, 1) if len(assets.strokes(name)) == PACK]
    settled = packs[-1] if packs else 0
    (tile,) = tiles_over(here, TILE)
    last = cache.find(("touched last", own, tile))
    if last is not None and last.goes_on(files, settled):
        values, drawn = crop(last.values, tile, here).copy(), len(last.files)
    elif settled:
        kept = cache.get(
            (key_of("touch", files[:settled], own), tile),
            lambda: _settled(files, packs, own, tile, assets, cache.find),
        )
        values, drawn = crop(kept, tile, here) / FULL, settled
    else:
        values, drawn = np.ones((here.height, here.width), np.float32), 0
    values = _replayed(values, files[drawn:], own, here, assets)
    if here == tile and len(files) - settled > FEW:
        cache.put(("touched last", own, tile), _Last(files, values))
    return values


@dataclass(frozen=True, eq=False)
class _Last:
    """The weights of a tile after the files that were last drawn there: one stroke more is drawn
    onto them. They are what drawing all of them again would give, to the bit."""

    files: tuple
    values: np.ndarray

    @property
    def nbytes(self) -> int:
        return self.values.nbytes

    def goes_on(self, files: tuple, settled: int) -> bool:
        """Whether these files begin with those, and nothing is rounded after them."""
        return settled <= len(self.files) <= len(files) and files[: len(self.files)] == self.files


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
            found = covered(stroke, own, box)
            if found is not None:
                here, amount = found
                part = crop(values, box, here)
                part += amount * (1 - part) if stroke.back else -amount * part
    return values
