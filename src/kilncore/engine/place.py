"""Where something lies within something else: moved, turned and scaled alike both ways."""

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class Place:
    """x, y : its middle. rotation : radians, clockwise."""

    x: float
    y: float
    scale: float
    rotation: float

    def of(self, inner: "Place") -> "Place":
        """A place counted from this one's middle, in this one's scale and turn, as a place of its own."""
        x, y = self._out(inner.x, inner.y)
        return Place(x, y, self.scale * inner.scale, self.rotation + inner.rotation)

    def corners(self, width: float, height: float) -> list[tuple[float, float]]:
        """The corners of a box around its middle, where they come to lie."""
        return [self._out(x * width / 2, y * height / 2) for x in (-1, 1) for y in (-1, 1)]

    def _out(self, x: float, y: float) -> tuple[float, float]:
        cos, sin = math.cos(self.rotation) * self.scale, math.sin(self.rotation) * self.scale
        return self.x + cos * x - sin * y, self.y + sin * x + cos * y
