"""Pixelate: square cells of one tone, the mean of what lay there."""

from typing import Literal

import numpy as np

from kilncore.model.setting import setting
from kilncore.pixels.stored import deep, full_of, put
from kilncore.prep.base import Copy, Operation, operation


@operation("pixelate", title="Pixelate", sentence="Square cells of one tone each.")
class Pixelate(Operation):
    """cell_px : the side of a cell, counted from the upper left; the last ones may be cut."""

    kind: Literal["pixelate"] = "pixelate"
    cell_px: float = setting(
        8.0, "Cell", "", "size", unit="px", soft=(1, 80), ge=1, le=1000, step=1
    )

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """In cells."""
        count, height, width = planes.shape
        down = _edges(height, self.cell_px * copy.unit)
        across = _edges(width, self.cell_px * copy.unit)
        tall, wide = np.diff([*down, height]), np.diff([*across, width])
        out = np.empty(planes.shape, deep(planes.dtype))
        unit = np.float64(1 / full_of(planes))
        for plane, made in zip(planes, out, strict=True):
            for first, rows in zip(down, tall, strict=True):
                line = plane[first : first + rows].sum(0, dtype=np.float64)
                means = np.add.reduceat(line, across) * unit / (wide * rows)
                put(np.repeat(means, wide)[None], made[first : first + rows])
        return out

    def told(self) -> str:
        """The cell."""
        return f"cells of {self.cell_px:.3g} px"


def _edges(size: int, cell: float) -> np.ndarray:
    """The first px of each cell, of one px at least."""
    cell = max(cell, 1.0)
    edges = np.unique(np.rint(np.arange(0, size, cell)).astype(int))
    return edges[edges < size]
