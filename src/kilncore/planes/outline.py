"""An area with a freehand outline on the piece, with a soft edge."""

import math
from dataclasses import dataclass, field

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.plane import ArrayPlane
from kilncore.graph.protocols import NodeReader


@dataclass(frozen=True)
class OutlinePlane(ArrayPlane):
    """1 inside. loops : closed, each ((x, y), ...) in output px; a point is inside where an odd
    number of them goes round it (the even-odd rule of SVG). feather : the width of the edge, output
    px, never less than 1.

    The distance to the nearest side decides, so that a soft edge is as wide everywhere.
    """

    loops: tuple[tuple[tuple[float, float], ...], ...]
    feather: float
    key: str = field(init=False)
    extent: Box = EVERYWHERE

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("outline", self.loops, self.feather))

    def compute(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(H, W) float32, 0..1."""
        if box.empty:
            return np.zeros((max(box.height, 0), max(box.width, 0)), np.float32)
        return _outline(_sides(self.loops), box.left, box.top, box.width, box.height, self._edge)

    @property
    def _edge(self) -> float:
        return max(self.feather, 1.0)


def _sides(loops: tuple) -> np.ndarray:
    """(N, 4) float64: where each side begins and ends."""
    sides = [
        (*first, *second)
        for loop in loops
        for first, second in zip(loop, (*loop[1:], loop[0]), strict=True)
    ]
    return np.array([one for one in sides if all(map(math.isfinite, one))], np.float64).reshape(
        -1, 4
    )


@kernel
def _outline(sides: np.ndarray, left: int, top: int, width: int, height: int, edge: float):
    """sides : (N, 4) float64. Every pixel's value depends on its own place alone."""
    out = np.empty((height, width), np.float32)
    reach = edge / 2 + 1
    crossings = np.empty(max(len(sides), 1))
    near = np.empty(width)
    for row in range(height):
        y = top + row + 0.5
        count = 0
        near[:] = reach * reach
        for n in range(len(sides)):
            x0, y0, x1, y1 = sides[n, 0], sides[n, 1], sides[n, 2], sides[n, 3]
            if (y0 <= y) != (y1 <= y):
                crossings[count] = x0 + (y - y0) * (x1 - x0) / (y1 - y0)
                count += 1
            if y < min(y0, y1) - reach or y > max(y0, y1) + reach:
                continue
            first = max(min(x0, x1) - reach - left, 0.0)
            last = min(max(x0, x1) + reach - left, width - 1.0)
            dx, dy = x1 - x0, y1 - y0
            square = max(dx * dx + dy * dy, 1e-12)
            for i in range(int(first), int(last) + 1):
                x = left + i + 0.5
                along = min(max(0.0, ((x - x0) * dx + (y - y0) * dy) / square), 1.0)
                away_x, away_y = x - x0 - along * dx, y - y0 - along * dy
                near[i] = min(near[i], away_x * away_x + away_y * away_y)
        in_order = np.sort(crossings[:count])
        passed = 0
        for i in range(width):
            x = left + i + 0.5
            while passed < count and in_order[passed] <= x:
                passed += 1
            away = math.sqrt(near[i]) / edge
            away = away if passed % 2 else -away
            out[row, i] = min(max(0.0, 0.5 + away), 1.0)
    return out
