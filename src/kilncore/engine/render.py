"""Pictures of a piece.

`render` draws at a scale: what a draft shows, and what fires. `exact` shows the scale-1 pixels themselves, averaged
by area below 100 % and repeated above, so that the screen tells the truth about the file.
"""

import math
from collections.abc import Callable

import numpy as np

from kilncore.document import Piece
from kilncore.engine import pool
from kilncore.engine.box import Box, put, scaled
from kilncore.engine.plan import Plan, Point
from kilncore.engine.reader import SHARED_CACHE, Reader, tiles_over
from kilncore.errors import KilnError
from kilncore.planes import from_planes
from kilncore.reduce import area_average

BLOCK = 256
Region = tuple[float, float, float, float]


def render(piece: Piece, region: Region | None = None, scale: float = 1.0, assets=None, *, with_ground: bool = True,
           point: Point | None = None, cache=SHARED_CACHE, cancelled: Callable[[], bool] = lambda: False) -> np.ndarray:
    """A straight (H, W, 4) float32 picture of a region of the piece, drawn at `scale` output px per document px.

    region : (x, y, width, height) in document px, the whole piece if None; it is widened outwards to whole output px
    and cut to the piece. assets : an AssetStore. point : draw the piece only up to there.
    Raises KilnError for a region or scale that cannot be drawn, MissingAsset for a file that is not there, Superseded
    when `cancelled` says so.
    """
    planes = np.empty((4, *_checked(piece, region, scale)[::-1]), np.float32)
    wanted = region_box(piece, region, scale)

    def keep(box: Box, part: np.ndarray) -> None:
        put(planes, wanted, box, part)

    draw_tiles(piece, region, scale, assets, keep, with_ground=with_ground, point=point, cache=cache, cancelled=cancelled)
    return from_planes(planes)


def draw_tiles(piece, region, scale, assets, keep, *, with_ground=True, point=None, cache=SHARED_CACHE,
               cancelled=lambda: False) -> None:
    """Draw tile by tile; keep(box, premultiplied planes) is called from the pool's threads, once for each part."""
    node = _node(piece, scale, with_ground, point)
    reader, wanted = Reader(assets, cache, cancelled), region_box(piece, region, scale)

    def draw(tile: Box) -> None:
        part = tile.met(wanted)
        keep(part, reader.read(node, part))

    pool.each(draw, tiles_over(wanted))


def exact(piece: Piece, region: Region | None = None, scale: float = 1.0, assets=None, *, with_ground: bool = True,
          point: Point | None = None, cache=SHARED_CACHE, cancelled: Callable[[], bool] = lambda: False) -> np.ndarray:
    """The scale-1 pixels, shown at `scale`: averages of premultiplied values below 1, repeated above. As `render`."""
    _checked(piece, region, scale)
    node, wanted = _node(piece, 1.0, with_ground, point), region_box(piece, region, scale)
    reader, page = Reader(assets, cache, cancelled), scaled(0, 0, *piece.size_px, 1.0)
    planes = np.empty((4, wanted.height, wanted.width), np.float32)

    def draw(box: Box) -> None:
        source = scaled(box.left, box.top, box.width, box.height, 1 / scale).met(page)
        pixels = reader.read(node, source)
        part = _reduced(pixels, scale, box, source) if scale < 1 else _repeated(pixels, scale, box, source)
        put(planes, wanted, box, part)

    pool.each(draw, _blocks(wanted))
    return from_planes(planes)


def region_box(piece: Piece, region: Region | None, scale: float) -> Box:
    """The output pixels of a region: widened outwards, cut to the piece."""
    page = scaled(0, 0, *piece.size_px, scale)
    return page if region is None else scaled(*region, scale).met(page)


def _checked(piece, region, scale) -> tuple[int, int]:
    if not (math.isfinite(scale) and 0.001 <= scale <= 32):
        raise KilnError("A scale must be from 0.001 to 32.", str(scale))
    if region is not None and not all(math.isfinite(n) for n in region):
        raise KilnError("A region must be four numbers.", str(region))
    box = region_box(piece, region, scale)
    if box.empty:
        raise KilnError("The region lies outside the piece.", str(region))
    return box.width, box.height


def _node(piece: Piece, scale: float, with_ground: bool, point: Point | None):
    plan = Plan(piece, scale)
    return plan.up_to(point) if point else plan.finished(with_ground)


def _blocks(box: Box) -> list[Box]:
    return [Box(x, y, x + BLOCK, y + BLOCK).met(box)
            for y in range(box.top // BLOCK * BLOCK, box.bottom, BLOCK)
            for x in range(box.left // BLOCK * BLOCK, box.right, BLOCK)]


def _reduced(pixels, scale, box: Box, source: Box):
    return area_average(pixels, scale, box.left, box.top, box.width, box.height, source.left, source.top)


def _repeated(pixels, scale, box: Box, source: Box):
    columns = np.clip(np.floor((np.arange(box.left, box.right) + 0.5) / scale).astype(int) - source.left, 0, source.width - 1)
    rows = np.clip(np.floor((np.arange(box.top, box.bottom) + 0.5) / scale).astype(int) - source.top, 0, source.height - 1)
    return pixels[:, rows[:, None], columns[None]]
