"""How the softness of a surface changes under a mark: of a photo with little depth of focus.

The surface is measured in a grid of cells, each by its sharpest edges, and a plane is laid through
what was found: softness that grows or shrinks steadily along one direction.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np

from kilncore.geometry.box import Box
from kilncore.graph.protocols import NodeReader
from kilncore.measure.edge_softness import SOFTEST, softness
from kilncore.pixels.colour import BT709
from kilncore.planes.surface_facts import MeasuredSurface, colours_in, surface_of

ACROSS, SIDE, LEAST_SIDE = 5, 320, 48  # cells each way; px each way that are read of one
FEWEST = 4  # cells by which a plane is told


@dataclass(frozen=True)
class Slope:
    """sigma = level + across x + down y, document px, no less than `least` and no more than
    `most`.
    """

    level: float
    across: float
    down: float
    least: float
    most: float

    def at(self, x: np.ndarray, y: np.ndarray):
        """The sigma at places, document px."""
        return np.clip(self.level + self.across * x + self.down * y, self.least, self.most)


@dataclass(frozen=True)
class SoftnessAcross(MeasuredSurface):
    """Of a grid of cells of the box. Its value is a Slope, or None where too few cells have an edge
    to measure.
    """

    @property
    def tiles(self) -> list[Box]:
        """The middles of its cells."""
        box, boxes = self.whole, []
        across, down = (max(1, min(ACROSS, n // LEAST_SIDE)) for n in (box.width, box.height))
        for row in range(down):
            for column in range(across):
                x = box.left + round((column + 0.5) * box.width / across)
                y = box.top + round((row + 0.5) * box.height / down)
                wide, tall = min(SIDE, box.width // across), min(SIDE, box.height // down)
                corner = (x - wide // 2, y - tall // 2)
                boxes.append(Box(*corner, corner[0] + wide, corner[1] + tall).intersection(box))
        return [one for one in boxes if min(one.width, one.height) >= LEAST_SIDE]

    def part(self, reader: NodeReader, tile: Box) -> tuple[float, float, float] | None:
        """(x, y, sigma) of one cell; None if there is no edge in it."""
        colours = colours_in(reader, self.reads, tile)
        if colours is None:
            return None
        sigma = softness(colours @ BT709)
        middle = (tile.left + tile.right) / 2, (tile.top + tile.bottom) / 2
        return None if sigma >= SOFTEST else (*middle, sigma)

    def joined(self, parts: list, reader: NodeReader) -> Slope | None:
        """The plane through all cells, without the one in six that is farthest from it."""
        measured = np.array([part for part in parts if part is not None], np.float64).reshape(-1, 3)
        if len(measured) < FEWEST:
            return None
        weights = np.ones(len(measured))
        for _ in range(2):
            level, across, down = _plane(measured, weights)
            away = np.abs(measured[:, 2] - level - across * measured[:, 0] - down * measured[:, 1])
            weights = (away <= max(np.quantile(away, 5 / 6), 1e-9)).astype(float)
        least, most = measured[weights > 0, 2].min(), measured[weights > 0, 2].max()
        return Slope(level, across, down, float(least), float(most))


def _plane(measured: np.ndarray, weights: np.ndarray) -> tuple[float, float, float]:
    """By least squares; level, if all cells stand in a row or column."""
    middle = np.average(measured[:, :2], axis=0, weights=weights)
    given = np.column_stack([np.ones(len(measured)), measured[:, :2] - middle]) * weights[:, None]
    (level, across, down), *_ = np.linalg.lstsq(given, measured[:, 2] * weights, rcond=1e-6)
    return float(level - across * middle[0] - down * middle[1]), float(across), float(down)


def softness_across(sources: Any, ground: bool = False) -> SoftnessAcross:
    """Of what lies beneath a mark, or of the ground alone, under all of its art."""
    full = sources.full_size()
    return SoftnessAcross(
        surface_of(full, ground), full.bare.extent.intersection(full.whole), full.local
    )
