"""A cylinder seen from far away: what lies flat at u from its axis lies R sin(u / R) from it.

Points that would lie round the back are held at the rim, so that a closed outline stays closed.
"""

import math
from dataclasses import dataclass

import numpy as np

from kilncore.perspective.way_back import ROUND

STRAY = 0.02  # px that a chord may lie beside a curve
MOST_CUTS = 4000  # of one edge


@dataclass(frozen=True)
class Cylinder:
    """An upright one. axis : where it stands, across. radius : px. turn : how far round the middle
    lies. tilt : how far from above it is seen. Radians.
    """

    axis: float
    radius: float
    turn: float
    tilt: float

    def points(self, points: np.ndarray) -> np.ndarray:
        """(N, 2) points as they lie."""
        angle = (points[:, 0] - self.axis) / self.radius + self.turn
        angle = np.clip(angle, -math.pi / 2, math.pi / 2)
        x = self.axis + self.radius * np.sin(angle)
        lower = self.radius * math.sin(self.tilt) * (np.cos(angle) - 1)
        return np.stack([x, points[:, 1] * math.cos(self.tilt) + lower], 1)

    def edges(self, edges: np.ndarray) -> np.ndarray:
        """(M, 4) edges as they lie, cut so finely that they follow the curve."""
        step = math.sqrt(8 * self.radius * STRAY)
        counts = np.ceil(np.abs(edges[:, 2] - edges[:, 0]) / step)
        counts = np.clip(np.nan_to_num(counts, nan=1), 1, MOST_CUTS).astype(np.int64)
        of = np.repeat(np.arange(len(edges)), counts)
        number = np.arange(len(of)) - np.repeat(np.cumsum(counts) - counts, counts)
        ends = []
        for share in (number / counts[of], (number + 1) / counts[of]):
            share = share[:, None]
            # exactly the ends of the edge at its ends: neighbours meet
            ends.append(self.points(edges[of, :2] * (1 - share) + edges[of, 2:] * share))
        return np.concatenate(ends, 1)

    @property
    def back(self) -> tuple[float, ...]:
        """A line for `flat_points`."""
        tilt = math.sin(self.tilt), math.cos(self.tilt)
        return (ROUND, self.axis, self.radius, self.turn, *tilt, 0.0, 0.0, 0.0, 0.0)
