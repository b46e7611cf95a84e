"""Filling outlines: the exact share of every pixel that lies inside.

Method: signed areas of trapezoids, summed along each row from the left. A sum starts anew in every
picture, so the engine always asks for the same fixed tiles; the sums are in float64.
"""

from dataclasses import dataclass, field

import numpy as np

from kilncore.compiled.kernels import inlined, kernel
from kilncore.geometry.box import Box

FARTHEST = 2.0**40  # px


@dataclass(frozen=True, eq=False)
class Placed:
    """Edges of closed outlines where they lie, (N, 4) float64 in output px, to be filled tile by
    tile.
    """

    edges: np.ndarray
    _tops: np.ndarray = field(init=False)
    _bottoms: np.ndarray = field(init=False)

    def __post_init__(self):
        rows = self.edges[:, 1::2]
        object.__setattr__(self, "_tops", rows.min(1))
        object.__setattr__(self, "_bottoms", rows.max(1))

    @property
    def nbytes(self) -> int:
        """Bytes of its edges, and of what is known of them."""
        return self.edges.nbytes + self._tops.nbytes + self._bottoms.nbytes

    def within(self, box: Box) -> np.ndarray:
        """(H, W) float32, 0..1: the share of each pixel of a box that lies inside."""
        near = self.edges[(self._bottoms > box.top) & (self._tops < box.bottom)]
        moved = near - np.array([box.left, box.top] * 2, np.float64)
        return coverage(moved, box.width, box.height)


def coverage(edges: np.ndarray, width: int, height: int) -> np.ndarray:
    """(height, width) float32, 0..1.

    edges : (N, 4) float64, x0, y0, x1, y1 in px, of closed outlines that neither cross nor overlap.
    """
    edges = np.ascontiguousarray(edges, np.float64)
    if edges.ndim != 2 or edges.shape[1] != 4 or not (np.abs(edges) < FARTHEST).all():
        raise ValueError(f"edges of {edges.shape} are no outline, or lie too far out")
    return _coverage(edges, width, height)


@inlined
def _add(cells: np.ndarray, row: int, x0: float, x1: float, dy: float, width: int):
    """Credit one stretch of edge within one pixel row: its height in the cells it passes, and all
    to the right.
    """
    if x0 > x1:
        x0, x1 = x1, x0
    x0, x1 = min(max(x0, 0.0), float(width)), min(max(x1, 0.0), float(width))
    first, last = int(x0), int(x1)
    if first >= last:
        inside = 1 - ((x0 + x1) / 2 - first)
        cells[row, first] += dy * inside
        cells[row, first + 1] += dy * (1 - inside)
        return
    slope = dy / (x1 - x0)
    done = 0.0
    for i in range(first, last + 1):
        left, right = max(x0, float(i)), min(x1, float(i + 1))
        part = slope * (right - left)
        inside = part * (1 - ((left + right) / 2 - i))
        cells[row, i] += inside + done
        done = part - inside
    cells[row, last + 1] += done


@kernel
def _coverage(edges: np.ndarray, width: int, height: int):
    cells = np.zeros((height, width + 2))
    for n in range(edges.shape[0]):
        x0, y0, x1, y1 = edges[n, 0], edges[n, 1], edges[n, 2], edges[n, 3]
        if y0 == y1:
            continue
        sign = 1.0
        if y0 > y1:
            x0, y0, x1, y1, sign = x1, y1, x0, y0, -1.0
        step = (x1 - x0) / (y1 - y0)
        top, bottom = max(y0, 0.0), min(y1, float(height))
        row = int(top)
        while row < height and top < bottom:
            end = min(float(row + 1), bottom)
            xa, xb = x0 + (top - y0) * step, x0 + (end - y0) * step
            _split(cells, row, xa, xb, sign * (end - top), width)
            top = end
            row += 1
    out = np.empty((height, width), np.float32)
    for y in range(height):
        total = 0.0
        for x in range(width):
            total += cells[y, x]
            out[y, x] = min(abs(total), 1.0)
    return out


@inlined
def _split(cells: float, row: int, xa: float, xb: float, dy: float, width: int):
    """Cut the stretch at the picture's left and right edges, where clamping would bend it."""
    if xa > xb:
        xa, xb = xb, xa
    span = xb - xa
    if span > 0:
        beyond = min(max((0 - xa) / span, 0.0), 1.0)
        after = min(max((xb - width) / span, 0.0), 1.0)
        _add(cells, row, 0.0, 0.0, dy * beyond, width)
        _add(cells, row, max(xa, 0.0), min(xb, float(width)), dy * (1 - beyond - after), width)
    else:
        _add(cells, row, xa, xb, dy, width)
