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
    middle: float = 0.5
    key: str = field(init=False)
    extent: Box = EVERYWHERE
    cheap = True

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("fade", self.shape, *self.ends))

    @property
    def ends(self) -> tuple:
        """All but its shape."""
        return self.first, self.second, self.start, self.end, self.middle

    def write(self, reader: NodeReader, program: Program, box: Box) -> Register:
        """0..1."""
        dx, dy = self.second[0] - self.first[0], self.second[1] - self.first[1]
        length = max(math.hypot(dx, dy), 1e-6)
        x0, y0 = self.first
        if self.shape == "straight":
            unit = length * length
            share = program.grid(dx / unit, dy / unit, -(x0 * dx + y0 * dy) / unit)
        elif self.shape == "sweep":
            share = self._sweep(program)
        else:
            across, down = (
                program.grid(1 / length, 0, -x0 / length),
                program.grid(0, 1 / length, -y0 / length),
            )
            share = program.op("distance", across, down)
        share = share.clamped()
        if self.middle != 0.5:
            share = program.op("power", share, numbers=(math.log(0.5) / math.log(self.middle),))
        return self.start + (self.end - self.start) * share

    def _sweep(self, program: Program) -> Register:
        """How far round the first point, clockwise from the direction of the second, 0..1."""
        x0, y0 = self.first
        turn = math.atan2(self.second[1] - y0, self.second[0] - x0)
        cos, sin = math.cos(turn), math.sin(turn)
        along = program.grid(cos, sin, -(cos * x0 + sin * y0))
        beside = program.grid(-sin, cos, sin * x0 - cos * y0)
        turns = program.op("angle", along, beside) * (0.5 / math.pi)
        return program.op("repeat", turns, numbers=(1.0, 0.0))
