"""Maps from a flat page to a surface seen in perspective. They compose."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from kilncore.geometry.affine import Affine
from kilncore.geometry.box import Box
from kilncore.perspective.cylinder import Cylinder
from kilncore.perspective.homography import Homography, Points
from kilncore.perspective.way_back import flat_points, points_back

AROUND = np.array([(0.5, 0), (-0.5, 0), (0, 0.5), (0, -0.5)])  # px: a short way


@dataclass(frozen=True)
class Projection:
    """parts : from the flat page to the piece, in this order. hasty : whether what lies on it may
    be read more coarsely, while a hand moves it.
    """

    parts: tuple[Homography | Cylinder, ...]
    hasty: bool = False

    @classmethod
    def chain(cls, *parts: "Affine | Homography | Cylinder") -> "Projection":
        """Of parts in the order in which they are done; neighbours are joined where they can be."""
        joined: list[Homography | Cylinder] = []
        for part in parts:
            one = Homography.of_affine(part) if isinstance(part, Affine) else part
            last = joined[-1] if joined else None
            if isinstance(one, Homography) and isinstance(last, Homography):
                one, _ = one.of(last), joined.pop()
            joined.append(one)
        return cls(tuple(joined))

    def scaled(self, scale: float) -> "Projection":
        """The same between pages of which a px is 1 / scale of one."""
        there, back = (Affine(s, 0, 0, s, 0, 0) for s in (scale, 1 / scale))
        return replace(Projection.chain(back, *self.parts, there), hasty=self.hasty)

    def points(self, points: np.ndarray | Points) -> np.ndarray:
        """(N, 2) points of the flat page as they lie on the piece."""
        there = np.asarray(points, np.float64).reshape(-1, 2)
        for part in self.parts:
            there = part.points(there)
        return there

    def edges(self, edges: np.ndarray) -> np.ndarray:
        """(M, 4) edges x0, y0, x1, y1 of closed outlines, as they lie on the piece: M >= N."""
        for part in self.parts:
            edges = part.edges(edges)
        return edges

    @cached_property
    def back(self) -> np.ndarray:
        """(P, 10) float64: the way back, as the kernels read it (`way_back.back`)."""
        return np.array([part.back for part in reversed(self.parts)], np.float64)

    def flat_of(self, points: np.ndarray | Points) -> np.ndarray:
        """(N, 2): where points of the piece lie on the flat page."""
        places = np.ascontiguousarray(points, np.float64).reshape(-1, 2)
        return points_back(self.back, places)[:, :2]

    def flat(self, box: Box) -> np.ndarray:
        """(3, H, W) float64: where the middle of each pixel of a box lies on the flat page, x and
        y, and how much of what lies there can be seen, 0..1.
        """
        return flat_points(self.back, box.left, box.top, box.width, box.height)

    def seen(self, box: Box) -> np.ndarray:
        """(H, W) float32, 0..1: how much of what lies at each pixel can be seen."""
        if not self.hasty:
            return self.flat(box)[2].astype(np.float32)
        (columns, across), (rows, down) = (
            _cells(first, count) for first, count in ((box.left, box.width), (box.top, box.height))
        )
        places = np.stack(np.meshgrid(columns, rows), 2).reshape(-1, 2)
        seen = points_back(self.back, np.ascontiguousarray(places))[:, 2]
        return (down @ seen.reshape(len(rows), len(columns)) @ across.T).astype(np.float32)

    def enlarged(self, points: np.ndarray | Points) -> np.ndarray:
        """(N,) how much longer short ways around points become, as a mean over directions."""
        middles = np.asarray(points, np.float64).reshape(-1, 1, 2)
        there = self.points((middles + AROUND).reshape(-1, 2)).reshape(-1, 4, 2)
        (ax, ay), (dx, dy) = (there[:, 0] - there[:, 1]).T, (there[:, 2] - there[:, 3]).T
        return np.sqrt(np.abs(ax * dy - ay * dx))

    def around(self, point: np.ndarray | Sequence[float]) -> tuple[np.ndarray, float]:
        """(where a point lies, how much longer a short way around it becomes, as a mean)."""
        place = np.asarray(point, np.float64).reshape(1, 2)
        return self.points(place)[0], float(self.enlarged(place)[0])

    def direction(self, x: float, y: float, angle: float) -> float:
        """Where a short way from a point, `angle` radians clockwise, points to on the piece."""
        step = 0.5 * np.array([math.cos(angle), math.sin(angle)])
        first, last = self.points([(x - step[0], y - step[1]), (x + step[0], y + step[1])])
        return math.atan2(*(last - first)[::-1])


CELL = 8  # px within which what is seen of a surface that a hand moves is taken to change evenly


def _cells(first: int, count: int) -> tuple[np.ndarray, np.ndarray]:
    """(places CELL px apart, (count, N) how much of each counts for each px)."""
    places = np.arange(-(-count // CELL) + 1) * CELL
    weights = 1 - np.abs(np.arange(count)[:, None] - places) / CELL
    return places + first + 0.5, np.maximum(weights, 0)
