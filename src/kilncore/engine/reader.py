"""Reading nodes: every pixel is a function of its node's key and its place, however it is come by.

A node that is kept is drawn in tiles on one fixed grid and looked up by key; any other is drawn afresh for just the box
that is asked for. Which are kept is a matter of speed alone (`keeping`), so that any crop equals the same crop of the
whole, on any number of threads and for any size of tile.
"""

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from kilncore.box import Box, cut, put, tiles_over
from kilncore.engine.cache import TileCache
from kilncore.errors import Superseded

TILE = (640, 400)  # px: a view falls into a few of them, and two threads find enough to do
SHARED_CACHE = TileCache()


@dataclass
class Reader:
    """Reads nodes for one picture.

    kept : the keys of nodes to keep tiles of, with the box beyond which none of theirs is needed.
    cancelled : asked before anything is drawn. keeps_sources : whether what steps sample is kept too, by its exact box.
    """

    assets: object
    cache: TileCache = SHARED_CACHE
    cancelled: Callable[[], bool] = lambda: False
    kept: dict[str, Box] = field(default_factory=dict)
    keeps_sources: bool = False
    tile: tuple[int, int] = TILE

    def read(self, node, box: Box) -> np.ndarray:
        """(4, H, W) float32, premultiplied, or (1, H, W) alpha of a node of one tint. The caller must not write into it."""
        wanted = node.extent.met(box)
        if wanted.empty:
            return self._nothing(node, box)
        tiled = node.on_grid or node.key in self.kept
        pixels = self._tiled(node, wanted) if tiled else self._drawn(node, wanted)
        if wanted == box:
            return pixels
        out = self._nothing(node, box)
        put(out, box, wanted, pixels)
        return out

    def once(self, key, make: Callable):
        """A value that is worked out once for all tiles, kept by its key."""
        return self.cache.get(key, make)

    def source(self, key, make: Callable):
        """What a step samples for one box: it outlives changes of what lies before the step."""
        return self.cache.get(key, make) if self.keeps_sources else make()

    def _nothing(self, node, box: Box) -> np.ndarray:
        return np.zeros((4 if node.tint is None else 1, box.height, box.width), np.float32)

    def _tiled(self, node, box: Box) -> np.ndarray:
        limit = node.extent if node.on_grid else node.extent.met(self.kept[node.key].joined(box))
        parts = [tile.met(limit) for tile in tiles_over(box, TILE if node.on_grid else self.tile)]
        if len(parts) == 1 and parts[0] == box:
            return self._kept(node, box)
        out = np.empty((4 if node.tint is None else 1, box.height, box.width), np.float32)
        for part in parts:
            here = part.met(box)
            put(out, box, here, cut(self._kept(node, part), part, here))
        return out

    def _kept(self, node, part: Box) -> np.ndarray:
        return self.cache.get((node.key, part), lambda: _closed(self._drawn(node, part)))

    def _drawn(self, node, box: Box) -> np.ndarray:
        if self.cancelled():
            raise Superseded
        return node.draw(self, box)


def _closed(pixels: np.ndarray) -> np.ndarray:
    """What is kept holds no more memory than its own."""
    return np.ascontiguousarray(pixels if pixels.base is None else pixels.copy())
