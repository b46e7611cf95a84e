"""A rectangle or an ellipse on the piece, with a soft edge."""

import math
from dataclasses import dataclass, field

import numpy as np

from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.plane import Plane
from kilncore.graph.protocols import NodeReader
from kilncore.perspective.projection import Projection


@dataclass(frozen=True)
class RegionPlane(Plane):
    """1 inside. middle, size : output px. rotation : radians. feather : the width of the edge,
    output px, never less than 1. projection : of what it lies on, from flat output px.

    The distance to an ellipse is its implicit value over its gradient: close to the edge, where it
    counts.
    """

    shape: str
    middle: tuple[float, float]
    size: tuple[float, float]
    rotation: float
    feather: float
    projection: Projection | None = None
    key: str = field(init=False)
    extent: Box = EVERYWHERE
    cheap = True

    def __post_init__(self):
        object.__setattr__(
            self,
            "key",
            key_of("region", *self.placed, self.projection),
        )

    @property
    def placed(self) -> tuple:
        """All but what it lies on."""
        return self.shape, self.middle, self.size, self.rotation, self.feather

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
            self._line(program, cos * across, sin * across, -(cos * x + sin * y) * across),
            self._line(program, -sin * down, cos * down, (sin * x - cos * y) * down),
        )

    def _line(self, program: Program, a: float, b: float, c: float) -> Register:
        """a x + b y + c of where a pixel lies flat."""
        if self.projection is None:
            return program.grid(a, b, c)
        x, y, _ = self.projection.flat(program.box)
        return program.load((a * x + b * y + c).astype(np.float32)[None], program.box)[0]

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
