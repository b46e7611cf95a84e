"""Reading nodes: every pixel is a function of its node's key and its place, however it is come by.

A node that is kept is drawn in tiles on one fixed grid and looked up by key; any other is written afresh onto the tape of
whoever asks. Which are kept is a matter of speed alone (`keeping`), so that any crop equals the same crop of the whole, on
any number of threads and for any size of tile.
"""

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from kilncore.box import Box, tiles_over
from kilncore.engine.cache import TileCache
from kilncore.errors import Superseded
from kilncore.rows.picture import Picture, tinted
from kilncore.rows.tape import Tape

TILE = (640, 400)  # px: a view falls into a few of them, and two threads find enough to do
SHARED_CACHE = TileCache()


@dataclass(frozen=True)
class Tile:
    """A kept part of a node: (C, H, W) of alpha alone, colour, or both, in the node's own form; last, if it is firm, how so."""

    planes: np.ndarray
    premultiplied: bool = False
    firm: bool = False

    @property
    def nbytes(self) -> int:
        return self.planes.nbytes


@dataclass
class Reader:
    """Reads nodes for one picture.

    kept : the keys of nodes to keep tiles of, with the box beyond which none of theirs is needed.
    cancelled : asked before anything is drawn. keeps_sources : whether what steps sample is kept too, by its exact box.
    tile : of the grid on which nodes are kept; None, each in one piece.
    """

    assets: object
    cache: TileCache = SHARED_CACHE
    cancelled: Callable[[], bool] = lambda: False
    kept: dict[str, Box] = field(default_factory=dict)
    keeps_sources: bool = False
    tile: tuple[int, int] | None = TILE

    def picture(self, node, tape: Tape) -> Picture | None:
        """The node as rows on the tape; None where nothing of it lies in the tape's box."""
        here = node.extent.met(tape.box)
        if here.empty:
            return None
        if node.key not in tape.drawn:
            tiled = node.on_grid or node.key in self.kept
            tape.drawn[node.key] = self._tiled(node, here, tape) if tiled else self._written(node, here, tape)
        return tape.drawn[node.key]

    def read(self, node, box: Box, alone: bool = False) -> np.ndarray:
        """(4, H, W) float32, premultiplied. alone : only what is not the same everywhere: (1, H, W) alpha of a node of one
        tint, (3, H, W) of an opaque one. The caller must not write into it."""
        tape = Tape(box)
        picture = self.picture(node, tape)
        if picture is None:
            return np.zeros((1 if alone and node.tint else 4, box.height, box.width), np.float32)
        out = tape.planes(_own(node, picture) if alone else picture.laid().planes)
        tape.run()
        return out

    def art_of(self, node):
        """A node that is blank wherever this one is, and that it is drawn from."""
        while node.within is not None and node.key not in self.kept:
            node = node.within
        return node

    def once(self, key, make: Callable):
        """A value that is worked out once for all tiles, kept by its key."""
        return self.cache.get(key, make)

    def source(self, key, make: Callable):
        """What a step samples for one box: it outlives changes of what lies before the step."""
        return self.cache.get(key, make) if self.keeps_sources else make()

    def _written(self, node, here: Box, tape: Tape) -> Picture | None:
        if self.cancelled():
            raise Superseded
        return node.write(self, tape, here)

    def _tiled(self, node, box: Box, tape: Tape) -> Picture | None:
        limit = node.extent if node.on_grid else node.extent.met(self.kept[node.key].joined(box))
        grid = TILE if node.on_grid else self.tile
        parts = [tile.met(limit) for tile in tiles_over(box, grid)] if grid else [limit]
        found = [(self.cache.get((node.key, part), lambda part=part: self._tile(node, part)), part) for part in parts]
        found = [(tile, part) for tile, part in found if tile.planes.size]
        if not found:
            return None
        rows = tape.load_parts([(tile.planes, part) for tile, part in found])
        rows, firm = (rows[:-1], rows[-1]) if found[0][0].firm else (rows, None)
        if node.tint:
            return replace(tinted(tape, rows[0], node.tint), firm=firm)
        return Picture(tape, rows[:3], *rows[3:], premultiplied=found[0][0].premultiplied, firm=firm)

    def _tile(self, node, part: Box) -> Tile:
        tape = Tape(part)
        picture = self._written(node, part, tape)
        if picture is None:
            return Tile(np.empty((0, part.height, part.width), np.float32))
        rows = (picture.alpha,) if node.tint else picture.planes
        planes = tape.planes(rows if picture.firm is None else (*rows, picture.firm))
        tape.run()
        return Tile(_closed(planes), picture.premultiplied, picture.firm is not None)


def _own(node, picture: Picture):
    if node.tint:
        return (picture.alpha,)
    return picture.colour if picture.alpha is None else picture.laid().planes


def _closed(pixels: np.ndarray) -> np.ndarray:
    """What is kept holds no more memory than its own."""
    return np.ascontiguousarray(pixels if pixels.base is None else pixels.copy())
