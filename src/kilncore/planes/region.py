"""A rectangle or an ellipse on the piece, with a soft edge."""

import math
from dataclasses import dataclass, field

from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.plane import Plane
from kilncore.graph.protocols import NodeReader


@dataclass(frozen=True)
class RegionPlane(Plane):
    """1 inside. middle, size : output px. rotation : radians. feather : the width of the edge,
    output px, never less than 1.

    The distance to an ellipse is its implicit value over its gradient: close to the edge, where it
    counts.
    """

    shape: str
    middle: tuple[float, float]
    size: tuple[float, float]
    rotation: float
    feather: float
    key: str = field(init=False)
    extent: Box = EVERYWHERE
    cheap = True

    def __post_init__(self):
        object.__setattr__(
            self,
            "key",
            key_of("region", self.shape, self.middle, self.size, self.rotation, self.feather),
        )

    def write(self, reader: NodeReader, program: Program, box: Box) -> Register:
        """0..1."""
        beyond = (
            self._beyond_rectangle(program)
            if self.shape == "rectangle"
            else self._beyond_ellipse(program)
        )
        return beyond.clamped(-1 / max(self.feather, 1.0), 0.5)

    def _axes(self, program: Program, across: float, down: float) -> tuple[Register, Register]:
        """Coordinates from the middle, turned back, the first times `across`, the second times
        `down`.
        """
        cos, sin, (x, y) = math.cos(self.rotation), math.sin(self.rotation), self.middle
        return (
            program.grid(cos * across, sin * across, -(cos * x + sin * y) * across),
            program.grid(-sin * down, cos * down, (sin * x - cos * y) * down),
        )

    @property
    def _radii(self) -> tuple[float, float]:
        return max(self.size[0] / 2, 1e-3), max(self.size[1] / 2, 1e-3)

    def _beyond_rectangle(self, program: Program) -> Register:
        x, y = self._axes(program, 1, 1)
        rx, ry = self._radii
        return program.op("max", program.op("abs", x) - rx, program.op("abs", y) - ry)

    def _beyond_ellipse(self, program: Program) -> Register:
        rx, ry = self._radii
        value = program.op("distance", *self._axes(program, 1 / rx, 1 / ry))
        steep = program.op("distance", *self._axes(program, 1 / rx**2, 1 / ry**2))
        return program.op("ratio", value * (value - 1), steep)
