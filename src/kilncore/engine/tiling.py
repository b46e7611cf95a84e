"""Drawing a box of a node, tile by tile, from the pool's threads."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from kilncore.compiled.program import Program
from kilncore.engine import pool
from kilncore.engine.cache_policy import RECENT, Recent, analysed, deep, kept
from kilncore.engine.near import CROWD, crowd_near
from kilncore.engine.nodes import Landed, LocalKeys
from kilncore.engine.reader import SHARED_CACHE, TILE, Reader
from kilncore.engine.targets import Bytes
from kilncore.engine.wholes import prepare
from kilncore.geometry.box import Box, tiles_over
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets
from kilncore.system.cache import ByteCache

SOURCES_KEPT_UP_TO = 3_000_000  # px of a picture
TOGETHER_UP_TO = 3_000_000  # px of a picture of which all that it is made of is kept at once
CROWDED_TILE = (320, 140)
LEAST_TALL = 50
STRIPS, STRIP_PIXELS = 2, 40_000  # for each thread, of a part of a picture
LARGE_TILE, LARGE_PIXELS = (1792, 256), 6_000_000
SMALL_TILE, SMALL_PIXELS = (448, 270), 700_000  # what a bench shows; larger ones took longer


@dataclass(frozen=True)
class Drawing:
    """How to go about a picture, apart from what is on it.

    keeps : whether tiles of nodes are kept at all; a picture is the same either way. seen : the
    memory of earlier pictures, by which what a change leaves alone is kept; None for a single
    picture. cancelled : asked before anything is drawn. patience : of the pool. threads, tile : a
    picture is the same for any; no tile, one that suits the picture's size. only : the box of it
    that is drawn; what is kept on the way is kept as if all were.
    """

    cache: ByteCache = SHARED_CACHE
    seen: Recent | None = RECENT
    cancelled: Callable[[], bool] = lambda: False
    threads: int = pool.THREADS
    tile: tuple[int, int] | None = None
    patience: float = pool.DRAFT
    keeps: bool = True
    only: Box | None = None


def draw_box(node: Node, wanted: Box, assets: Assets | None, target: Any, **drawing: Any) -> None:
    """Draw a box of a node's px into a target (see `targets`)."""
    how = Drawing(**drawing)
    node = node if how.only is None else crowd_near(node, how.only, assets)
    tile_size = how.tile or (CROWDED_TILE if _crowded(node) else _shared_out(wanted))
    how = replace(how, tile=tile_size)
    reader = reader_of(node, wanted, assets, how)

    def draw(tile: Box) -> None:
        program = Program(tile.intersection(wanted))
        reader.ready(node, program.box)
        target.write(program, reader.picture(node, program))
        program.run()
        target.done(program.box)

    keys, wanted = LocalKeys(node), wanted.intersection(how.only or wanted)
    tiles, by_parts = tiles_over(wanted, tile_size), how.seen is not None and how.only is None
    by_parts = by_parts and _shown_by_parts(node, target, reader)
    if how.only is not None:
        tiles = _cut(wanted)

    def draw_once(tile: Box) -> None:
        box = tile.intersection(wanted)

        def drawn() -> np.ndarray:
            draw(tile)
            return target.taken(box)

        target.put(box, how.cache.get((keys.of(box), "bytes", box), drawn))

    if wanted.width * wanted.height <= TOGETHER_UP_TO:
        boxes = [tile.intersection(wanted) for tile in tiles]
        missing = (box for box in boxes if (keys.of(box), "bytes", box) not in how.cache)
        reader.ready_together(node, list(missing) if by_parts else boxes, how.threads, how.patience)
    pool.each(
        draw_once if by_parts else draw,
        tiles,
        how.threads,
        lambda tile: reader.ahead(tile.intersection(wanted)),
        how.patience,
    )


def reader_of(node: Node, wanted: Box, assets: Assets | None, how: Drawing) -> Reader:
    """A reader of a node over a box, with all that is worked out before it is drawn."""
    sources = how.seen is not None and wanted.width * wanted.height <= SOURCES_KEPT_UP_TO
    analysis = analysed(node)
    held = kept(node, wanted, how.seen, analysis) if how.keeps else {}
    tile = how.tile or TILE
    reader = Reader(assets, how.cache, how.cancelled, held, sources, tile, analysis)
    prepare(node, reader=reader, at_once=how.threads)
    levels = deep(analysis, wanted, how.cache.budget) if how.keeps else []
    reader.hold(levels, node.sources, how.threads)
    return reader


def _cut(box: Box) -> list[Box]:
    """Strips for all threads, though none so small that telling what to draw takes longer."""
    strips = max(1, min(box.width * box.height // STRIP_PIXELS, pool.THREADS * STRIPS))
    tall = -(-box.height // strips)
    return [
        Box(box.left, top, box.right, min(top + tall, box.bottom))
        for top in range(box.top, box.bottom, tall)
    ]


def _crowded(node: Node) -> bool:
    """Whether so many items lie in a picture that drawing few of them anew counts for more than
    what every tile costs.
    """
    count = 0
    while isinstance(node, Landed):
        node, count = node.canvas, count + 1
    return count >= CROWD


def _shown_by_parts(node: Node, target: Any, reader: Reader) -> bool:
    """Whether a part of the picture depends on nothing but the items that reach into it: marks on
    an opaque ground, as bytes. Elsewhere their formats could differ by what lies beside it.
    """
    under = node
    while isinstance(under, Landed):
        under = under.canvas
    stacked = isinstance(node, Landed) and isinstance(target, Bytes)
    return stacked and not reader.pixel_formats.of(under).alpha


def _shared_out(wanted: Box) -> tuple[int, int]:
    """Tiles wide enough that a large picture is no more than a few dozen, and low enough that a
    small one, too, gives every thread something to do."""
    pixels = wanted.width * wanted.height
    if pixels < SMALL_PIXELS:
        return SMALL_TILE
    wide, tall = LARGE_TILE if pixels > LARGE_PIXELS else TILE
    while tall > LEAST_TALL and len(tiles_over(wanted, (wide, tall))) < pool.THREADS * 2:
        tall //= 2
    return wide, tall
