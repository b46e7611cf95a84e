"""Outlines as straight edges, fine enough for any size they are drawn at."""

import math
from dataclasses import dataclass

import numpy as np
import pathops

UNITS = 1000  # of a path to one unit of the outline (the em)
TOLERANCE = 0.02  # of a path unit: 0.04 px on letters of 2000 px


@dataclass(frozen=True, eq=False)
class Outline:
    """edges : (N, 4) float64, closed, united, around (0, 0). width, height : of the box. In ems."""

    edges: np.ndarray
    width: float
    height: float

    @property
    def nbytes(self) -> int:
        """Bytes of its edges."""
        return self.edges.nbytes

    def placed(self, matrix: tuple[float, ...]) -> np.ndarray:
        """The edges after x' = a x + c y + e, y' = b x + d y + f."""
        a, b, c, d, e, f = matrix
        x, y = self.edges[:, 0::2], self.edges[:, 1::2]
        out = np.empty_like(self.edges)
        out[:, 0::2], out[:, 1::2] = a * x + c * y + e, b * x + d * y + f
        return out


def flattened(path: pathops.Path) -> np.ndarray:
    """(N, 4) edges of a Skia path, in units of UNITS."""
    edges, start, here = [], None, None
    for verb, points in path:
        if verb == pathops.PathVerb.MOVE:
            start = here = points[0]
            continue
        if verb == pathops.PathVerb.CLOSE:
            line = [start]
        else:
            line = _curve(np.array([here, *points], np.float64))
        for point in line:
            edges.append((*here, *point))
            here = point
    return np.array(edges, np.float64).reshape(-1, 4) / UNITS


def _curve(points: np.ndarray) -> list[tuple[float, float]]:
    """The points after the first of a line or Bezier curve, cut so that no chord strays further
    than TOLERANCE.

    The number of cuts is the classic bound from the second differences: sqrt(n (n - 1) bend / (8
    tolerance)).
    """
    degree = len(points) - 1
    bend = np.abs(np.diff(points, 2, axis=0)).max() if degree > 1 else 0
    count = max(1, math.ceil(math.sqrt(degree * (degree - 1) * bend / (8 * TOLERANCE))))
    t = np.linspace(0, 1, count + 1)[1:, None]
    bernstein = [math.comb(degree, k) * t**k * (1 - t) ** (degree - k) for k in range(degree + 1)]
    line = sum(weight * point for weight, point in zip(bernstein, points, strict=True))
    return [tuple(point) for point in line]
