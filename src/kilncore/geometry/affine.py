"""Maps from one plane to another: moved, turned, scaled, mirrored. They compose. Perspectives are
in `kilncore/perspective`.
"""

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class Affine:
    """x' = a x + c y + e, y' = b x + d y + f."""

    a: float
    b: float
    c: float
    d: float
    e: float
    f: float

    @classmethod
    def similarity(cls, x: float, y: float, scale: float, rotation: float) -> "Affine":
        """Scaled alike both ways and turned clockwise by `rotation` radians about the origin, which
        comes to (x, y).
        """
        cos, sin = math.cos(rotation) * scale, math.sin(rotation) * scale
        return cls(cos, sin, -sin, cos, x, y)

    def of(self, inner: "Affine") -> "Affine":
        """The map that does `inner` first, and then this one."""
        x, y = self.point(inner.e, inner.f)
        return Affine(
            self.a * inner.a + self.c * inner.b,
            self.b * inner.a + self.d * inner.b,
            self.a * inner.c + self.c * inner.d,
            self.b * inner.c + self.d * inner.d,
            x,
            y,
        )

    def point(self, x: float, y: float) -> tuple[float, float]:
        """Where a point comes to lie."""
        return self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f

    @property
    def inverse(self) -> "Affine":
        """The map back; ZeroDivisionError if there is none."""
        whole = self.a * self.d - self.b * self.c
        a, b, c, d = self.d / whole, -self.b / whole, -self.c / whole, self.a / whole
        return Affine(a, b, c, d, -(a * self.e + c * self.f), -(b * self.e + d * self.f))

    def corners(self, width: float, height: float) -> list[tuple[float, float]]:
        """Where the corners of a box around the origin come to lie."""
        return [self.point(x * width / 2, y * height / 2) for x in (-1, 1) for y in (-1, 1)]

    @property
    def scale(self) -> float:
        """How much longer a step across becomes."""
        return math.hypot(self.a, self.b)

    @property
    def rotation(self) -> float:
        """Where a step across points to, radians clockwise."""
        return math.atan2(self.b, self.a)

    @property
    def matrix(self) -> tuple[float, ...]:
        """(a, b, c, d, e, f)."""
        return self.a, self.b, self.c, self.d, self.e, self.f


MIRROR = Affine(-1, 0, 0, 1, 0, 0)
"""Left and right change places about the origin."""
