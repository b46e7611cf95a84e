"""A ramp across the piece, or around a point of it."""

import math
from dataclasses import dataclass, field

from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.plane import Plane
from kilncore.graph.protocols import NodeReader


@dataclass(frozen=True)
class FadePlane(Plane):
    """`start` at the first point, `end` at the second and beyond; around the first if `shape` is
    round. Points in output px.
    """

    shape: str
    first: tuple[float, float]
    second: tuple[float, float]
    start: float
    end: float
    key: str = field(init=False)
    extent: Box = EVERYWHERE
    cheap = True

    def __post_init__(self):
        object.__setattr__(
            self, "key", key_of("fade", self.shape, self.first, self.second, self.start, self.end)
        )

    def write(self, reader: NodeReader, program: Program, box: Box) -> Register:
        """0..1."""
        dx, dy = self.second[0] - self.first[0], self.second[1] - self.first[1]
        length = max(math.hypot(dx, dy), 1e-6)
        x0, y0 = self.first
        if self.shape == "straight":
            unit = length * length
            share = program.grid(dx / unit, dy / unit, -(x0 * dx + y0 * dy) / unit)
        else:
            across, down = (
                program.grid(1 / length, 0, -x0 / length),
                program.grid(0, 1 / length, -y0 / length),
            )
            share = program.op("distance", across, down)
        return self.start + (self.end - self.start) * share.clamped()
