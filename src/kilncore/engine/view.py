"""What a step may look at while it draws one tile."""

import numpy as np

from kilncore.engine.box import Box
from kilncore.masks import luma
from kilncore.parts import TexturePlacement, TextureRef

MEAN_SAMPLES = 2**18


class StepView:
    def __init__(self, reader, node, box: Box):
        self._reader, self._node, self.box = reader, node, box
        self.frame = node.frame

    def input(self, margin: int = 0) -> np.ndarray:
        """(4, H, W) premultiplied: the step's input over the tile and `margin` px around. Read-only."""
        return self._reader.read(self._node.input, self.box.grown(margin))

    def beneath(self, margin: int = 0) -> np.ndarray:
        """The same of what lies beneath the item."""
        return self._reader.read(self._node.beneath, self.box.grown(margin))

    def mean_beneath(self) -> float:
        """The mean luma of what lies beneath, over the whole item: one number for all tiles."""
        beneath, whole = self._node.beneath, self._node.whole
        return self._reader.once(("mean", beneath.key, whole), lambda: _mean(self._reader, beneath, whole))

    def texture(self, ref: TextureRef, placement: TexturePlacement, luminance: bool = False) -> np.ndarray:
        """(C, H, W) float32, 0..1, of a texture as placed in the item's frame; C = 1 when only luminance is wanted."""
        texture = self._reader.assets.texture(ref.hash)
        texture = texture.luminance if luminance else texture
        matrix = self.frame.texture_matrix(placement)
        return texture.sample(matrix, self.box.left, self.box.top, self.box.width, self.box.height, ref.tiles)


def _mean(reader, node, whole: Box) -> float:
    if whole.empty:
        return 0.5
    total, count = 0.0, 0
    rows = max(1, MEAN_SAMPLES // whole.width)
    for top in range(whole.top, whole.bottom, rows):
        band = Box(whole.left, top, whole.right, min(top + rows, whole.bottom))
        total += float(luma(reader.read(node, band)).sum(dtype=np.float64))
        count += band.width * band.height
    return total / count
