"""What a wear spares of a mark and how it leans to its edges: the middles of strokes, thin strokes,
a region; tones shifted by depth, and lifted in parts that would lose too much.
"""

from dataclasses import dataclass

import numpy as np

from kilncore.geometry.box import Box
from kilncore.planes.mark_shape import Shape

MARGIN_PX = 0.75  # of the shape's own: its middles lie on its pixels
THIN, THICK = 0.45, 0.7  # of the typical half width: thinner strokes are thin, thicker ones are not


@dataclass(frozen=True)
class Sparing:
    """bias : -1 (tones lower in the middle) to 1 (lower at edges). stroke_px : document px of every
    stroke's middle that is kept. thin : 0..1, how much thin strokes are spared.
    """

    bias: float = 0.0
    stroke_px: float = 0.0
    thin: float = 0.0

    @property
    def spares(self) -> bool:
        """Whether anything is spared."""
        return self.stroke_px > 0 or self.thin > 0

    def shift(self, shape: Shape, box: Box, scale: float) -> np.ndarray | None:
        """(H, W) that is added to tones, -0.5 to 0.5; None for nothing."""
        if not self.bias or not shape.edged:
            return None
        deep = shape.at(shape.deep, box, scale) / np.float32(shape.typical)
        return (np.clip(deep, 0, 1) - np.float32(0.5)) * np.float32(self.bias)

    def spared(self, shape: Shape, box: Box, scale: float) -> np.ndarray | None:
        """(H, W) 0..1, how much is spared; None for nothing."""
        if not self.spares or not shape.edged:
            return None
        left = np.ones((box.height, box.width), np.float32)
        if self.stroke_px > 0:
            reach = np.float32(self.stroke_px * shape.scale / 2 + MARGIN_PX)
            left *= 1 - np.clip(reach - shape.at(shape.middle, box, scale), 0, 1)
        if self.thin > 0:
            wide = shape.at(shape.half_width, box, scale) / np.float32(shape.typical)
            left *= 1 - np.float32(self.thin) * np.clip((THICK - wide) / (THICK - THIN), 0, 1)
        return 1 - left
