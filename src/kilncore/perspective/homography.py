"""A plane seen in perspective: a homography.

Source: Heckbert 1989. x' = (h0 x + h1 y + h2) / w, y' = (h3 x + h4 y + h5) / w, w = h6 x + h7 y +
h8. Points that would lie behind the eye are held at the last line before it, so that a closed
outline stays closed.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kilncore.geometry.affine import Affine
from kilncore.perspective.way_back import PERSPECTIVE

FLATTEST = 0.001
NEAREST = 0.02  # of w, where w is 1 in the middle: nearer to the eye nothing is drawn
Points = Sequence[Sequence[float]]  # (x, y) each


@dataclass(frozen=True)
class Homography:
    """matrix : h0 .. h8, of which w is above 0 wherever it can be seen."""

    matrix: tuple[float, ...]

    @classmethod
    def of_affine(cls, placed: Affine) -> "Homography":
        """The same map."""
        a, b, c, d, e, f = placed.matrix
        return cls((a, c, e, b, d, f, 0.0, 0.0, 1.0))

    @property
    def array(self) -> np.ndarray:
        """(3, 3)."""
        return np.array(self.matrix).reshape(3, 3)

    def of(self, inner: "Homography") -> "Homography":
        """The map that does `inner` first, and then this one."""
        return Homography(tuple(float(n) for n in (self.array @ inner.array).ravel()))

    def points(self, points: np.ndarray) -> np.ndarray:
        """(N, 2) points as they lie."""
        x, y, w = self.array @ np.vstack([points.T, np.ones(len(points))])
        return np.stack([x, y], 1) / np.maximum(w, NEAREST)[:, None]

    def edges(self, edges: np.ndarray) -> np.ndarray:
        """(M, 4) edges as they lie; those that reach behind the eye are cut there."""
        first, last = edges[:, :2], edges[:, 2:]
        w0, w1 = (one @ self.array[2, :2] + self.array[2, 2] for one in (first, last))
        cut = (w0 < NEAREST) != (w1 < NEAREST)
        share = (NEAREST - w0[cut]) / (w1[cut] - w0[cut])
        middle = first[cut] + share[:, None] * (last[cut] - first[cut])
        parts = [edges[~cut], np.hstack([first[cut], middle]), np.hstack([middle, last[cut]])]
        edges = np.concatenate(parts)
        ends = [self.points(self._before(one)) for one in (edges[:, :2], edges[:, 2:])]
        return np.hstack(ends)

    def _before(self, points: np.ndarray) -> np.ndarray:
        """Points behind the eye, moved to the last line before it, whence w grows."""
        way = self.array[2, :2]
        short = NEAREST - (points @ way + self.array[2, 2])
        steep = max(float(way @ way), 1e-30)
        return points + np.where(short > 0, short / steep, 0)[:, None] * way

    @property
    def back(self) -> tuple[float, ...]:
        """A line for `flat_points`."""
        inverse = np.linalg.inv(self.array)
        return (PERSPECTIVE, *(float(n) for n in inverse.ravel()))


def between(corners: Points, others: Points) -> Homography:
    """The one that brings four points to four others: the 8 x 8 system of Heckbert 1989, with w 1
    in the middle of the first; numpy.linalg.LinAlgError where there is none.
    """
    rows, values = [], []
    for (x, y), (u, v) in zip(corners, others, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        values += [u, v]
    matrix = np.append(np.linalg.solve(np.array(rows, float), np.array(values, float)), 1.0)
    middle = np.mean(np.array(corners, float), 0)
    matrix = matrix / (matrix[6:8] @ middle + matrix[8])
    return Homography(tuple(float(n) for n in matrix))


def convex(corners: Points) -> bool:
    """Whether four corners, in order around, turn the same way at each, none of them flat: each
    lies off the line through its neighbours by FLATTEST of the way between the farthest of them.
    """
    ring = np.array(corners, float)
    before, after = ring - np.roll(ring, 1, 0), np.roll(ring, -1, 0) - ring
    turns = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    across = np.roll(ring, -1, 0) - np.roll(ring, 1, 0)
    away = np.hypot(across[:, 0], across[:, 1])
    off, least = turns / np.maximum(away, 1e-9), FLATTEST * away.max()
    return bool((off > least).all() or (off < -least).all())
