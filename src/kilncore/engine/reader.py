"""Reading nodes: every pixel is a function of its node's key and its place, however it is come by.

A node that is kept is drawn in tiles on one fixed grid and looked up by key; any other is written
afresh into the program of whoever asks. Which are kept is a matter of speed and memory alone
(`keeping`), so that any crop equals the same crop of the whole, on any number of threads and for
any size of tile.

However long a treatment or a stack is, nothing here goes deep: what is kept is drawn before what is
made of it (`ready`), and what is written in one program is written from the bottom up (`picture`).
"""

from collections.abc import Callable, Hashable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from kilncore.compiled.program import Program, Register
from kilncore.engine import pool
from kilncore.engine.cache_policy import HELD_AT_MOST, Analysis
from kilncore.engine.levels import in_levels
from kilncore.errors import KilnError, Superseded
from kilncore.geometry.box import Box, tiles_over
from kilncore.graph.node import Node
from kilncore.graph.plane import Plane, TilePlane
from kilncore.pixels.picture import Picture
from kilncore.pixels.pixel_format import PixelFormats, WrongFormat
from kilncore.system.cache import ByteCache

TILE = (640, 400)  # px: a view falls into a few of them, and two threads find enough to do
SHARED_CACHE = ByteCache()


@dataclass
class Reader:
    """Reads nodes for one picture.

    kept : the keys of nodes to keep tiles of, with the box beyond which none of theirs is needed.
    cancelled : asked before anything is drawn. keeps_sources : whether what steps sample is kept
    too, by its exact box. tile : of the grid on which nodes are kept; None, each in one piece.
    study : the walk over the graph, by which is known what lies in files. values : whole-item
    values, by their keys.
    """

    assets: Any
    cache: ByteCache = SHARED_CACHE
    cancelled: Callable[[], bool] = lambda: False
    kept: dict[str, Box] = field(default_factory=dict)
    keeps_sources: bool = False
    tile: tuple[int, int] | None = TILE
    analysis: Analysis | None = None
    values: dict[str, object] = field(default_factory=dict)

    def __post_init__(self):
        self.pixel_formats, self.held = PixelFormats(self.assets), {}
        known = self.analysis
        self._fetched = (
            [
                (node, known.margins[node.key])
                for node in known.nodes.values()
                if hasattr(node, "fetch")
            ]
            if known
            else []
        )
        self._needs = {}

    def picture(self, node: Node, program: Program) -> Picture | None:
        """The node as registers of the program; None where nothing of it lies in the
        program's box.
        """
        waiting = [node]
        while (under := waiting[-1].onto) is not None and self._is_to_be_written(under, program):
            waiting.append(under)
        for one in reversed(waiting):
            written = self._on_tape(one, program)
        return written

    def _is_to_be_written(self, node: Any, program: Program) -> bool:
        return (
            node.key not in program.drawn
            and not self._is_tiled(node)
            and not node.extent.intersection(program.box).empty
        )

    def _on_tape(self, node: Any, program: Program) -> Picture | None:
        here = node.extent.intersection(program.box)
        if here.empty:
            return None
        if node.key not in program.drawn:
            program.drawn[node.key] = (self._tiled if self._is_tiled(node) else self._written)(
                node, here, program
            )
        return program.drawn[node.key]

    def plane(self, node: Node, program: Program) -> Register:
        """A plane as a register of the program."""
        form: Any = self.pixel_formats.of(node)
        row: Any = self.picture(node, program)
        return program.constant(form.outside) if row is None else row

    def value(self, node: Node):
        """A whole-item value, which `wholes.prepare` has worked out."""
        return self.values[node.key]

    def read(self, node: Node, box: Box, alone: bool = False) -> np.ndarray:
        """(4, H, W) float32, premultiplied. alone : only what is not the same everywhere: (1, H, W)
        alpha of a node of one tint, (3, H, W) of an opaque one. The caller must not write into it.
        """
        program, form = Program(box), self.pixel_formats.of(node)
        picture = self.picture(node, program)
        if picture is None:
            count = 4 if not alone else 1 if form.tint else 3 + form.alpha
            return np.zeros((count, box.height, box.width), np.float32)
        if not alone:
            rows = picture.premultiply().planes
        else:
            rows = (
                (picture.covered,)
                if form.tint
                else picture.premultiply().planes
                if form.alpha
                else picture.colour
            )
        out = program.planes(rows)
        program.run()
        return out

    def art_of(self, node: Node):
        """A node that is blank wherever this one is, and that it is drawn from."""
        while node.within is not None and node.key not in self.kept:
            node = node.within
        return node

    def once(self, key: Hashable, make: Callable):
        """A value that is worked out once for all tiles, kept by its key."""
        return self.cache.get(key, make)

    @property
    def keeps_blocks(self) -> bool:
        """Not of a small picture that is drawn in one piece, nor of one that keeps no sources."""
        return self.keeps_sources and self.tile is not None

    def source(self, key: Hashable, make: Callable):
        """What a step samples for one box: it outlives changes of what lies before the step."""
        return self.cache.get(key, make) if self.keeps_sources else make()

    def ahead(self, box: Box) -> Callable | None:
        """What has to be waited for before a box of the picture is drawn: drawings that child
        processes make.
        """
        lacking = [
            (node, block)
            for node, margin in self._fetched
            for block in node.lacking(self, box.expanded(margin))
        ]
        return (lambda: self._fetch(lacking)) if lacking else None

    def _fetch(self, lacking: list) -> None:
        def fetch(one: tuple) -> None:
            node, block = one
            if self.cancelled():
                raise Superseded
            node.fetch(self, block)

        pool.waited_for(fetch, lacking)

    def ready(self, node: Node, box: Box) -> None:
        """Draw the kept tiles that a box of a node is made of, those first that others are made
        of.
        """
        self._draw_kept(self._missing(self._needed_by(node), box))

    def ready_sources(self, sources: tuple, box: Box) -> None:
        """The same for whoever reads a box of sources: ((node, margin), ...)."""
        self._draw_kept(self._missing(self._next_kept(sources), box))

    def ready_together(self, node: Node, boxes: list[Box], at_once: int, patience: float) -> None:
        """The same for several boxes, at several threads: all tiles that others are made of, then
        all that are made of those, and so on.
        """
        missing = [one for box in boxes for one in self._missing(self._needed_by(node), box)]
        made_of = lambda source, tile: self._missing(self._needed_by(source), tile)  # noqa: E731
        for level in in_levels(missing, made_of):
            pool.each(
                lambda one: self._kept_tile(*one),
                level,
                at_once,
                lambda one: self.ahead(one[1]),
                patience,
            )

    def _draw_kept(self, waiting: list[tuple]) -> None:
        done = set()
        while waiting:
            node, tile = waiting[-1]
            known = (node.key, tile) in done
            missing = [] if known else self._missing(self._needed_by(node), tile)
            done.add((node.key, tile))
            if missing:
                waiting += missing
                continue
            waiting.pop()
            self._kept_tile(node, tile)

    def hold(self, levels: list[tuple], sources: tuple, at_once: int) -> None:
        """Draw nodes whole, deepest first, and hold on to each as long as another is made of it.
        levels : (node, box). sources : of whoever reads the last of them, ((node, margin), ...).
        """
        self._check_room(levels)
        readers = {node.key: number for number, (node, _) in enumerate(levels)}
        last = {
            source.key: readers[node.key]
            for node, _ in levels
            for source, _ in self._needed_by(node)
        }
        last |= {source.key: len(levels) for source, _ in self._next_kept(sources)}
        for number, (node, box) in enumerate(levels):
            parts = self._parts(node, box)
            pool.each(
                lambda tile, node=node: self._held_tile(node, tile),
                parts,
                at_once,
                self.ahead,
            )
            self.held = {
                key: planes for key, planes in self.held.items() if last.get(key[0], 0) > number
            }

    def _held_tile(self, node: Node, tile: Box) -> None:
        self.ready(node, tile)
        self.held[node.key, tile] = self._kept_tile(node, tile)

    def _check_room(self, levels: list) -> None:
        sizes = [
            4 * self.pixel_formats.of(node).planes * box.width * box.height for node, box in levels
        ]
        if any(sum(sizes[n : n + 2]) > HELD_AT_MOST for n in range(len(sizes))):
            raise KilnError(
                "The steps of this piece look too far around for its size: together they would "
                "need more memory than there is. "
                "Take out one that softens widely, or make it narrower.",
                str(max(sizes)),
            )

    def _missing(self, needed: list[tuple], box: Box) -> list[tuple]:
        """The tiles of kept nodes that a box is made of and that are not there: (node, tile)."""
        lacking = []
        for source, margin in needed:
            part = box.expanded(margin).intersection(self._extent(source))
            if not part.empty:
                lacking += [
                    (source, tile)
                    for tile in self._parts(source, part)
                    if (source.key, tile) not in self.cache and (source.key, tile) not in self.held
                ]
        return lacking

    def _needed_by(self, node: Any) -> list[tuple]:
        """The next kept nodes that a node is drawn from, each with the margin that is
        read of it.
        """
        if node.key not in self._needs:
            self._needs[node.key] = self._next_kept(node.sources)
        return self._needs[node.key]

    def _next_kept(self, sources: tuple) -> list[tuple]:
        """The next kept nodes among sources and what those are made of."""
        read, waiting = {}, list(sources)
        while waiting:
            source, margin = waiting.pop()
            known = read.get(source.key)
            if known is not None and known[1] >= margin:
                continue
            read[source.key] = source, margin
            if not self._is_tiled(source):
                waiting += [(below, margin + more) for below, more in source.sources]
        return [(source, margin) for source, margin in read.values() if self._is_tiled(source)]

    def _is_tiled(self, node: Any) -> bool:
        return node.on_grid or node.key in self.kept

    def _written(self, node: Any, here: Box, program: Program) -> Picture | None:
        if self.cancelled():
            raise Superseded
        picture = node.write(self, program, here)
        return picture and self.pixel_formats.of(node).fitted(picture)

    def _tiled(self, node: Any, box: Box, program: Program) -> Picture | None:
        tiles = [(self._kept_tile(node, part), part) for part in self._parts(node, box)]
        tiles = [(planes, part) for planes, part in tiles if planes.size]
        return self.pixel_formats.of(node).load(program, tiles) if tiles else None

    def _parts(self, node: Any, box: Box) -> list[Box]:
        """The tiles of a kept node that a box touches."""
        limit = (
            node.extent
            if node.on_grid
            else self._extent(node).intersection(self.kept[node.key].union(box))
        )
        grid = TILE if node.on_grid else self.tile
        here = box.intersection(limit)
        if not grid or here.empty:
            return [] if here.empty else [limit]
        return [tile.intersection(limit) for tile in tiles_over(here, grid)]

    def _extent(self, node: Any) -> Box:
        """Of a node that is kept; of a plane, no more than counts for those that read it."""
        used = self.analysis.used.get(node.key) if self.analysis else None
        if used is None or not isinstance(node, Plane) or node.on_grid:
            return node.extent
        return node.extent.intersection(used)

    def _kept_tile(self, node: Any, part: Box) -> np.ndarray:
        """(C, H, W) float32, the registers of the node's format, or (0, H, W) where there is
        nothing.
        """
        planes = self.held.get((node.key, part))
        if planes is None:
            planes = self.cache.get((node.key, part), lambda: self._tile(node, part))
        form, size = self.pixel_formats.of(node), (part.height, part.width)
        if planes.dtype != form.dtype or planes.shape not in ((form.planes, *size), (0, *size)):
            raise WrongFormat(f"a tile of {planes.dtype} {planes.shape} is no {form}")
        return planes

    def _tile(self, node: Any, part: Box) -> np.ndarray:
        if isinstance(node, TilePlane):
            return np.ascontiguousarray(node.tile(self, part))
        program = Program(part)
        picture = self._written(node, part, program)
        if picture is None:
            return np.empty((0, part.height, part.width), np.float32)
        planes = program.planes(self.pixel_formats.of(node).registers(picture))
        program.run()
        return _closed(planes)


def _closed(pixels: np.ndarray) -> np.ndarray:
    """What is kept holds no more memory than its own."""
    return np.ascontiguousarray(pixels if pixels.base is None else pixels.copy())
