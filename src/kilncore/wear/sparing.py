"""What a wear spares of a mark and how it leans to its edges: thin strokes, and tones shifted by
depth.
"""

from dataclasses import dataclass

import numpy as np

from kilncore.geometry.box import Box
from kilncore.planes.mark_shape import Shape

THIN, THICK = 0.45, 0.7  # of the typical half width: thinner strokes are thin, thicker ones are not


@dataclass(frozen=True)
class Sparing:
    """bias : -1 (tones lower in the middle) to 1 (lower at edges). thin : 0..1, how much thin
    strokes are spared.
    """

    bias: float = 0.0
    thin: float = 0.0

    def shift(self, shape: Shape, box: Box, scale: float) -> np.ndarray | None:
        """(H, W) that is added to tones, -0.5 to 0.5; None for nothing."""
        if not self.bias or not shape.edged:
            return None
        deep = shape.at(shape.deep, box, scale) / np.float32(shape.typical)
        return (np.clip(deep, 0, 1) - np.float32(0.5)) * np.float32(self.bias)

    def spared(self, shape: Shape, box: Box, scale: float) -> np.ndarray | None:
        """(H, W) 0..1, how much is spared; None for nothing."""
        if self.thin <= 0 or not shape.edged:
            return None
        wide = shape.at(shape.half_width, box, scale) / np.float32(shape.typical)
        return np.float32(self.thin) * np.clip((THICK - wide) / (THICK - THIN), 0, 1)
