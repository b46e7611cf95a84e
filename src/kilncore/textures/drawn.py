"""A texture that is a drawing: flakes, splatter. It is drawn anew, finer, where it is enlarged."""

import math
from collections.abc import Callable
from typing import Any

import numpy as np
from cachetools import LRUCache

from kilncore.pixels.luma import luminance_rows
from kilncore.pixels.stored import full_of
from kilncore.svg.parsing import parsed
from kilncore.svg.rasterising import rasterised
from kilncore.svg.sanitising import own_size
from kilncore.textures.texture import Texture

NOMINAL_PX = 2048  # of its longer side: what counts as its own size
MOST_PIXELS = 64_000_000
FINEST = 5
NEARER = 2.0  # how much larger a texture in perspective may come than it lies flat


class DrawnTexture(Texture):
    """draw : how often doubled -> (C, H, W) planes. size : of those that are not doubled."""

    def __init__(self, draw: Callable[[int], np.ndarray]):
        super().__init__(draw(0))
        self._draw, self._finer = draw, LRUCache(2)
        pixels = self.size[0] * self.size[1]
        self._finest = min(FINEST, int(math.log2(max(MOST_PIXELS / pixels, 1)) / 2))

    @property
    def luminance(self) -> Texture:
        """As a mask: what is see-through is white, and stays."""
        if len(self.planes) == 1:
            return self
        with self._lock:
            if "luminance" not in self.__dict__:
                self.__dict__["luminance"] = DrawnTexture(lambda often: _mask(self._draw(often)))
            return self.__dict__["luminance"]

    def sample(
        self,
        matrix: tuple,
        left: int,
        top: int,
        width: int,
        height: int,
        edges: str = "repeat",
        projection: Any = None,
    ):
        """As of a Texture; enlarged, from a drawing as fine as it shows."""
        enlarged = 1 / max(math.hypot(matrix[0], matrix[1]), 1e-9)
        if projection is not None:
            enlarged *= NEARER
        often = min(max(0, math.ceil(math.log2(enlarged) - 1e-9)), self._finest)
        if not often:
            return super().sample(matrix, left, top, width, height, edges, projection)
        return self._doubled(often).sample(matrix, left, top, width, height, edges, projection)

    def _doubled(self, often: int) -> Texture:
        with self._lock:
            if often not in self._finer:
                self._finer[often] = Texture(self._draw(often), self.size)
            return self._finer[often]


def drawn(svg: bytes) -> DrawnTexture:
    """Of a sanitised SVG."""
    size = own_size(parsed(svg))
    unit = NOMINAL_PX / max(size)

    def draw(often: int) -> np.ndarray:
        scale = unit * 2**often
        width, height = (max(16, round(side * unit)) * 2**often for side in size)
        matrix = (scale, 0, 0, scale, width / 2, height / 2)
        pixels = rasterised(svg, size, matrix, width, height, scale)
        share = pixels[..., 3:] / np.float32(255)
        planes = np.concatenate(
            [np.rint(pixels[..., :3] * share).astype(np.uint8), pixels[..., 3:]], 2
        )
        return np.ascontiguousarray(np.moveaxis(planes, 2, 0))

    return DrawnTexture(draw)


def _mask(planes: np.ndarray) -> np.ndarray:
    """(1, H, W) uint16: the luma on white."""
    if len(planes) < 4:
        return luminance_rows(planes)[None]
    clear = (full_of(planes) - planes[3]).astype(np.uint16) * np.uint16(257)
    return (luminance_rows(planes) + clear)[None]
