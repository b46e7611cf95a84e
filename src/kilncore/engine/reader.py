"""Reading nodes tile by tile: every picture is put together from tiles on one fixed grid.

A tile is a function of its node's key and its place on the grid, never of the region that was asked for. That is why
any crop equals the same crop of the whole.
"""

from collections.abc import Callable

import numpy as np

from kilncore.engine.box import Box, cut, put
from kilncore.engine.cache import TileCache
from kilncore.errors import Superseded

TILE = 512
SHARED_CACHE = TileCache()


class Reader:
    """Reads nodes for one rendering. `cancelled` is asked before each tile is made."""

    def __init__(self, assets, cache: TileCache = SHARED_CACHE, cancelled: Callable[[], bool] = lambda: False):
        self.assets, self.cache, self.cancelled = assets, cache, cancelled

    def read(self, node, box: Box) -> np.ndarray:
        """(4, H, W) float32, premultiplied. The caller must not write into it."""
        wanted = node.extent.met(box)
        tiles = list(_tiles(wanted))
        if len(tiles) == 1 and wanted == box == self._part(node, *tiles[0]):
            tile = self.tile(node, *tiles[0])
            return np.zeros((4, box.height, box.width), np.float32) if tile is None else tile
        out = np.zeros((4, box.height, box.width), np.float32)
        for place in tiles:
            tile = self.tile(node, *place)
            if tile is not None:
                part = self._part(node, *place)
                here = part.met(box)
                put(out, box, here, cut(tile, part, here))
        return out

    def tile(self, node, column: int, row: int) -> np.ndarray | None:
        """The part of one tile where the node has anything; None where it has nothing.

        Most marks fill little of their tiles, and only that little is drawn and kept.
        """
        part = self._part(node, column, row)
        if part.empty:
            return None
        return self.cache.get((node.key, column, row), lambda: self._made(node, part))

    def _part(self, node, column: int, row: int) -> Box:
        return node.extent.met(_tile_box(column, row))

    def once(self, key, make: Callable):
        """A value that is worked out once for all tiles, kept by its key."""
        return self.cache.get(key, make)

    def _made(self, node, part: Box):
        if self.cancelled():
            raise Superseded
        tile = node.draw(self, part)
        if tile is not None:
            tile = np.ascontiguousarray(tile, np.float32)
            tile.flags.writeable = False
        return tile


def tiles_over(box: Box) -> list[Box]:
    """The grid's tiles that a box touches, row by row."""
    return [_tile_box(*place) for place in _tiles(box)]


def _tiles(box: Box):
    if box.empty:
        return
    for row in range(box.top // TILE, -(-box.bottom // TILE)):
        for column in range(box.left // TILE, -(-box.right // TILE)):
            yield column, row


def _tile_box(column: int, row: int) -> Box:
    return Box(column * TILE, row * TILE, (column + 1) * TILE, (row + 1) * TILE)
