"""A frame: where an item's own coordinates lie on the piece."""

import math
from dataclasses import dataclass, replace
from functools import cached_property

from kilncore.model.texture import TexturePlacement
from kilncore.model.units import Length
from kilncore.perspective.projection import Projection


@dataclass(frozen=True)
class Frame:
    """x, y : its origin in document px. rotation : radians, clockwise. unit_px : its unit: for
    lettering the type size, for other items their height, in document px. It is what % of a length
    is of.

    scale : output px per document px. ppi : of the piece. page_width_px, page_height_px : the
    piece's size, for what covers it and for lengths on the piece. projection : of an item in
    perspective, from document px where it would lie flat, that all else here is told in, to where
    it lies.
    """

    x: float
    y: float
    rotation: float
    unit_px: float
    ppi: float
    scale: float = 1.0
    page_width_px: float = 0.0
    page_height_px: float = 0.0
    projection: Projection | None = None

    @cached_property
    def laid(self) -> Projection | None:
        """From flat output px to output px; None of what lies flat."""
        return self.projection and self.projection.scaled(self.scale)

    @property
    def middle(self) -> tuple[float, float]:
        """Where its origin lies, output px."""
        x, y = self.x * self.scale, self.y * self.scale
        if self.laid is None:
            return x, y
        x, y = self.laid.points([(x, y)])[0]
        return float(x), float(y)

    def direction(self, angle: float) -> float:
        """Where a way at its origin points to on the piece. Radians, clockwise, both."""
        turn = angle + self.rotation
        if self.laid is None:
            return turn
        return self.laid.direction(self.x * self.scale, self.y * self.scale, turn)

    @property
    def of_page(self) -> "Frame":
        """Of the page as it is now: its middle, upright; its unit is the page's height."""
        x, y = round(self.page_width_px / 2), round(self.page_height_px / 2)
        return replace(self, x=x, y=y, rotation=0.0, unit_px=self.page_height_px, projection=None)

    def length(self, length: Length) -> float:
        """A length in output px."""
        return length.in_px(self.ppi, self.unit_px) * self.scale

    def page_length(self, length: Length) -> float:
        """A length on the piece, in output px; % is of the piece's height."""
        return length.in_px(self.ppi, self.page_height_px) * self.scale

    def own(self) -> tuple[float, ...]:
        """(a, b, c, d, e, f): the item's own coordinates, in units from its origin, u = a x + c y +
        e, v = b x + d y + f of an output pixel's index."""
        unit = 1 / (self.scale * max(self.unit_px, 1e-6))
        cos, sin = math.cos(self.rotation) * unit, math.sin(self.rotation) * unit
        x, y = 0.5 - self.x * self.scale, 0.5 - self.y * self.scale
        return cos, -sin, sin, cos, cos * x + sin * y, cos * y - sin * x

    def texture_matrix(self, placement: TexturePlacement) -> tuple[float, ...]:
        """(a, b, c, d, e, f): texture px, from the texture's middle, u = a x + c y + e, v = b x + d
        y + f of output px.
        """
        unit = 1 / (self.scale * placement.scale)
        dx, dy = self.length(placement.x), self.length(placement.y)
        cos, sin = math.cos(self.rotation), math.sin(self.rotation)
        x0, y0 = (
            self.x * self.scale + cos * dx - sin * dy,
            self.y * self.scale + sin * dx + cos * dy,
        )
        turn = self.rotation + math.radians(placement.rotation_deg)
        cos, sin = _clean(math.cos(turn)) * unit, _clean(math.sin(turn)) * unit
        sx, sy = -1 if placement.flip_x else 1, -1 if placement.flip_y else 1
        if abs(unit) == 1 and abs(cos * sin) == 0:  # unscaled: whole pixels keep the texture sharp
            x0, y0 = _whole(x0), _whole(y0)
        a, b, c, d = sx * cos, -sy * sin, sx * sin, sy * cos
        return a, b, c, d, -(a * x0 + c * y0), -(b * x0 + d * y0)


def _whole(value: float) -> int:
    """The nearest whole px; a half always upward, whatever a computer makes of its last decimals,
    so that a frame moved by whole px takes its texture along.
    """
    return math.floor(round(value, 4) + 0.5)


def _clean(value: float) -> float:
    """Quarter turns exactly: cos 90 deg is 6e-17 to a computer."""
    return round(value) if abs(value - round(value)) < 1e-12 else value
