"""Pictures of a piece.

`render` draws at a scale: what a draft shows, and what fires. `exact` shows the scale-1 pixels
themselves, averaged by area below 100 % and repeated above, so that the screen tells the truth
about the file. `pixels` is either, in bytes; `together` many small ones at once.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from kilncore.compiled.program import Program
from kilncore.document import Piece
from kilncore.engine import pool
from kilncore.engine.built import Built
from kilncore.engine.cache_policy import RECENT, Recent, analysed, cached_together, deep, kept
from kilncore.engine.nodes import Landed, LocalKeys
from kilncore.engine.plan import Plan, Point
from kilncore.engine.plans import plan_of
from kilncore.engine.reader import SHARED_CACHE, TILE, Reader
from kilncore.engine.recall import Recall
from kilncore.engine.targets import Bytes, Planes
from kilncore.engine.wholes import prepare
from kilncore.errors import KilnError
from kilncore.geometry.box import Box, crop, scaled, tiles_over
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets
from kilncore.pixels.picture import of_planes
from kilncore.pixels.pixel_format import PixelFormats
from kilncore.pixels.planes import from_planes
from kilncore.pixels.reduce import area_average
from kilncore.system.cache import ByteCache

SOURCES_KEPT_UP_TO = 3_000_000  # px of a picture
BLOCK_PX = 640  # scale-1 pixels, each way, behind one block of a reduced picture
CROWD, CROWDED_TILE = 12, (320, 140)
LEAST_TALL = 50
LARGE_TILE, LARGE_PIXELS, SMALL_PIXELS = (1792, 256), 6_000_000, 500_000
Region = tuple[float, float, float, float]


@dataclass(frozen=True)
class Drawing:
    """How to go about a picture, apart from what is on it.

    keeps : whether tiles of nodes are kept at all; a picture is the same either way. seen : the
    memory of earlier pictures, by which what a change leaves alone is kept; None for a single
    picture. cancelled : asked before anything is drawn. patience : of the pool. threads, tile : a
    picture is the same for any; no tile, one that suits the picture's size.
    """

    cache: ByteCache = SHARED_CACHE
    seen: Recent | None = RECENT
    cancelled: Callable[[], bool] = lambda: False
    threads: int = pool.THREADS
    tile: tuple[int, int] | None = None
    patience: float = pool.DRAFT
    keeps: bool = True


def render(
    piece: Piece,
    region: Region | None = None,
    scale: float = 1.0,
    assets: Assets | None = None,
    *,
    with_ground: bool = True,
    point: Point | None = None,
    **drawing,
) -> np.ndarray:
    """A straight (H, W, 4) float32 picture of a region of the piece, drawn at `scale` output px per
    document px.

    region : (x, y, width, height) in document px, the whole piece if None; it is widened outwards
    to whole output px and cut to the piece. assets : an AssetStore. point : draw the piece only up
    to there. drawing : as Drawing. Raises KilnError for a region or scale that cannot be drawn,
    MissingAsset for a file that is not there, Superseded when `cancelled` says so.
    """
    return _collected(
        draw_tiles, piece, region, scale, assets, with_ground=with_ground, point=point, **drawing
    )


def exact(
    piece: Piece,
    region: Region | None = None,
    scale: float = 1.0,
    assets: Assets | None = None,
    *,
    with_ground: bool = True,
    point: Point | None = None,
    **drawing,
) -> np.ndarray:
    """The scale-1 pixels, shown at `scale`: averages of premultiplied values below 1, repeated
    above. As `render`.
    """
    return _collected(
        draw_exact, piece, region, scale, assets, with_ground=with_ground, point=point, **drawing
    )


def render_node(
    node: Node, piece: Piece, region: Region, scale: float, assets: Assets | None = None, **drawing
) -> np.ndarray:
    """A straight (H, W, 4) float32 picture of a node of the piece's plan at min(scale, 1), which
    is none of its pictures: a weight, say. As `render`, and above 1 as `exact`."""
    draw = draw_exact if scale > 1 else draw_tiles
    return _collected(draw, piece, region, scale, assets, node=node, **drawing)


def pixels(
    piece: Piece,
    region: Region | None = None,
    scale: float = 1.0,
    assets: Assets | None = None,
    *,
    truly: bool = False,
    with_ground: bool = True,
    point: Point | None = None,
    recall: Recall | None = None,
    **drawing,
) -> np.ndarray:
    """(H, W, 3) uint8, or (H, W, 4) straight where the picture may be transparent, of `exact` if
    truly, else of `render`. recall : what is measured is remembered there, and a draft takes it
    from there.
    """
    wanted = _wanted(piece, region, scale)
    plan = _plan(piece, 1.0 if truly else scale, None if truly else recall)
    built = _built(plan, with_ground, point)
    target = Bytes(wanted, channels(built.node, assets))
    draw = draw_exact if truly else draw_tiles
    draw(piece, region, scale, assets, target, node=built.node, **drawing)
    if recall:
        recall.note(built)
    return target.out


def together(
    pictures: list[tuple[Piece, Point | None]],
    region: Region | None,
    scale: float,
    assets: Assets | None = None,
    cache: ByteCache = SHARED_CACHE,
) -> list[np.ndarray]:
    """Several small pictures of one region: pieces of one size, each up to a point or finished, as
    `pixels` draws them.

    The stages of a treatment, or alternatives for one of its steps. What they have in common is
    drawn once.
    """
    wanted = _wanted(pictures[0][0], region, scale)
    nodes = [_node(piece, scale, True, point) for piece, point in pictures]
    targets = [Bytes(wanted, channels(node, assets)) for node in nodes]
    analysis = analysed(*nodes)
    files = Reader(assets, cache, analysis=analysis)
    prepare(*nodes, reader=files)

    def draw(part: Box) -> None:
        reader, program = (
            Reader(
                assets,
                cache,
                kept=cached_together(analysis, part),
                keeps_sources=True,
                tile=None,
                values=files.values,
            ),
            Program(part, skips=False),
        )
        for node, target in zip(nodes, targets, strict=True):
            reader.ready(node, part)
            target.write(program, reader.picture(node, program))
        program.run()

    tall = -(-wanted.height // pool.THREADS)
    parts = [
        Box(wanted.left, top, wanted.right, min(top + tall, wanted.bottom))
        for top in range(wanted.top, wanted.bottom, tall)
    ]
    pool.each(draw, parts, ahead=files.ahead, patience=pool.REST)
    return [target.out for target in targets]


def draw_tiles(
    piece: Piece,
    region: tuple[float, float, float, float] | None,
    scale: float,
    assets: Assets | None,
    target,
    *,
    with_ground: bool = True,
    point: Point | None = None,
    node: Node = None,
    **drawing,
) -> None:
    """Draw tile by tile into a target (see `targets`), from the pool's threads. node : of the
    picture, if it is there.
    """
    wanted = _wanted(piece, region, scale)
    draw_box(node or _node(piece, scale, with_ground, point), wanted, assets, target, **drawing)


def draw_box(node: Node, wanted: Box, assets: Assets | None, target, **drawing) -> None:
    """The same of a box of a node's px."""
    how = Drawing(**drawing)
    how = replace(how, tile=how.tile or (CROWDED_TILE if _crowded(node) else _shared_out(wanted)))
    reader = _reader(node, wanted, assets, how)

    def draw(tile: Box) -> None:
        program = Program(tile.intersection(wanted))
        reader.ready(node, program.box)
        target.write(program, reader.picture(node, program))
        program.run()
        target.done(program.box)

    keys = LocalKeys(node)

    def draw_once(tile: Box) -> None:
        box = tile.intersection(wanted)

        def drawn() -> np.ndarray:
            draw(tile)
            return target.taken(box)

        target.put(box, how.cache.get((keys.of(box), "bytes", box), drawn))

    if how.seen is not None and _shown_by_parts(node, target, reader):
        draw_tile = draw_once
    else:
        draw_tile = draw
    pool.each(
        draw_tile,
        tiles_over(wanted, how.tile),
        how.threads,
        lambda tile: reader.ahead(tile.intersection(wanted)),
        how.patience,
    )


def draw_exact(
    piece: Piece,
    region: tuple[float, float, float, float] | None,
    scale: float,
    assets: Assets | None,
    target,
    *,
    with_ground: bool = True,
    point: Point | None = None,
    node: Node = None,
    **drawing,
) -> None:
    """The same with the scale-1 pixels shown at `scale`. What was shown before is shown again
    without drawing it.
    """
    how, wanted = Drawing(**drawing), _wanted(piece, region, scale)
    node, page = node or _node(piece, 1.0, with_ground, point), scaled(0, 0, *piece.size_px, 1.0)
    reader = _reader(node, _behind(wanted, scale, page), assets, how)

    def shown(box: Box) -> np.ndarray:
        source = _behind(box, scale, page)
        reader.ready(node, source)
        found = reader.read(node, source, alone=node.tint is None)
        return (
            _reduced(found, scale, box, source)
            if scale < 1
            else _repeated(found, scale, box, source)
        )

    def draw(box: Box) -> None:
        planes = (
            how.cache.get((node.key, "exact", scale, box), lambda: shown(box))
            if how.seen
            else shown(box)
        )
        program = Program(box)
        target.write(program, of_planes(program, planes))
        program.run()

    pool.each(
        draw,
        _blocks(wanted, scale),
        how.threads,
        lambda box: reader.ahead(_behind(box, scale, page)),
        max(how.patience, pool.REST),
    )


def channels(node: Node, assets: Assets | None) -> int:
    """3 of what covers every pixel whole, else 4."""
    return 3 + PixelFormats(assets).of(node).alpha


def region_box(piece: Piece, region: Region | None, scale: float) -> Box:
    """The output pixels of a region: widened outwards, cut to the piece."""
    page = scaled(0, 0, *piece.size_px, scale)
    return page if region is None else scaled(*region, scale).intersection(page)


def _collected(draw, piece, region, scale, assets, **more) -> np.ndarray:
    wanted = _wanted(piece, region, scale)
    target = Planes(wanted)
    draw(piece, region, scale, assets, target, **more)
    return from_planes(target.out)


def _reader(node, wanted: Box, assets, how: Drawing) -> Reader:
    sources = how.seen is not None and wanted.width * wanted.height <= SOURCES_KEPT_UP_TO
    analysis = analysed(node)
    held = kept(node, wanted, how.seen, analysis) if how.keeps else {}
    reader = Reader(assets, how.cache, how.cancelled, held, sources, how.tile or TILE, analysis)
    prepare(node, reader=reader, at_once=how.threads)
    reader.hold(deep(analysis, wanted) if how.keeps else [], node.sources, how.threads)
    return reader


def _wanted(piece, region, scale) -> Box:
    if not (math.isfinite(scale) and 0.001 <= scale <= 32):
        raise KilnError("A scale must be from 0.001 to 32.", str(scale))
    if region is not None and not all(math.isfinite(n) for n in region):
        raise KilnError("A region must be four numbers.", str(region))
    box = region_box(piece, region, scale)
    if box.empty:
        raise KilnError("The region lies outside the piece.", str(region))
    return box


def _crowded(node: Node) -> bool:
    """Whether so many items lie in a picture that drawing few of them anew counts for more than
    what every tile costs.
    """
    count = 0
    while isinstance(node, Landed):
        node, count = node.canvas, count + 1
    return count >= CROWD


def _shown_by_parts(node: Node, target, reader: Reader) -> bool:
    """Whether a part of the picture depends on nothing but the items that reach into it: marks on
    an opaque ground, as bytes. Elsewhere their formats could differ by what lies beside it.
    """
    under = node
    while isinstance(under, Landed):
        under = under.canvas
    stacked = isinstance(node, Landed) and isinstance(target, Bytes)
    return stacked and not reader.pixel_formats.of(under).alpha


def _plan(piece: Piece, scale: float, recall: Recall | None) -> Plan:
    return Plan(piece, scale, recall) if recall else plan_of(piece, scale)


def _node(piece: Piece, scale: float, with_ground: bool, point: Point | None) -> Node:
    return _built(plan_of(piece, scale), with_ground, point).node


def _built(plan: Plan, with_ground: bool, point: Point | None) -> Built:
    return plan.up_to(point) if point else plan.finished(with_ground)


def _shared_out(wanted: Box) -> tuple[int, int]:
    """Tiles wide enough that a large picture is no more than a few dozen, and low enough that a
    small one, too, gives every thread something to do."""
    pixels = wanted.width * wanted.height
    wide, tall = LARGE_TILE if pixels > LARGE_PIXELS else TILE
    while tall > LEAST_TALL and len(tiles_over(wanted, (wide, tall))) < pool.THREADS * (
        1 if pixels < SMALL_PIXELS else 2
    ):
        tall //= 2
    return wide, tall


def _behind(box: Box, scale: float, page: Box) -> Box:
    """The scale-1 pixels that output pixels show."""
    return scaled(box.left, box.top, box.width, box.height, 1 / scale).intersection(page)


def _blocks(box: Box, scale: float) -> list[Box]:
    """The box cut on a grid of blocks behind each of which about as many scale-1 pixels lie."""
    size = max(16, round(BLOCK_PX * min(scale, 1) / 16) * 16)
    return [tile.intersection(box) for tile in tiles_over(box, (size, size // 2))]


def _reduced(found, scale, box: Box, source: Box):
    return area_average(
        found, scale, box.left, box.top, box.width, box.height, source.left, source.top
    )


def _repeated(found, scale, box: Box, source: Box):
    if scale == 1:
        return crop(found, source, box)
    columns = np.clip(
        np.floor((np.arange(box.left, box.right) + 0.5) / scale).astype(int) - source.left,
        0,
        source.width - 1,
    )
    rows = np.clip(
        np.floor((np.arange(box.top, box.bottom) + 0.5) / scale).astype(int) - source.top,
        0,
        source.height - 1,
    )
    return found[:, rows[:, None], columns[None]]
