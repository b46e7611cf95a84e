"""Inside, or outside, a rectangle, an ellipse or a freehand outline on the piece."""

import math
from collections.abc import Callable
from typing import Annotated, Literal

from pydantic import Field, model_validator

from kilncore.graph.plane import Plane
from kilncore.graph.sources import Sources
from kilncore.landing.limits.base import Limit, limit
from kilncore.model.units import Length, px
from kilncore.planes.outline import OutlinePlane
from kilncore.planes.region import RegionPlane

MOST_POINTS, MOST_LOOPS = 1200, 80
Inside = Annotated[float, Field(ge=-1, le=2)]
Loop = Annotated[tuple[tuple[Inside, Inside], ...], Field(min_length=3, max_length=MOST_POINTS)]


@limit("region", title="A region")
class RegionLimit(Limit):
    """x, y : its middle. feather : the width of the soft edge. outline : of a freehand one, closed
    loops of points from (0, 0), the box's corner, to (1, 1); what an odd number of them goes round
    is inside.
    """

    kind: Literal["region"] = "region"
    shape: Literal["rectangle", "ellipse", "outline"] = "rectangle"
    outline: Annotated[tuple[Loop, ...], Field(max_length=MOST_LOOPS)] = ()
    x: Length
    y: Length
    width: Length
    height: Length
    rotation_deg: float = Field(0.0, ge=-360, le=360)
    feather: Length = px(0)

    @model_validator(mode="after")
    def _outlined(self):
        if self.shape == "outline" and not self.outline:
            raise ValueError("a region of a freehand outline needs one: draw it first")
        if sum(map(len, self.outline)) > MOST_POINTS:
            raise ValueError(f"an outline has at most {MOST_POINTS} points")
        return self

    def plane(self, sources: Sources) -> Plane:
        """The rectangle, ellipse or outline."""
        length = sources.frame.page_length
        if self.shape == "outline":
            return OutlinePlane(self._loops(length), length(self.feather))
        return RegionPlane(
            self.shape,
            (length(self.x), length(self.y)),
            (length(self.width), length(self.height)),
            math.radians(self.rotation_deg),
            length(self.feather),
        )

    def _loops(self, length: Callable) -> tuple:
        """Its outline in output px."""
        turn = math.radians(self.rotation_deg)
        cos, sin, (x, y) = math.cos(turn), math.sin(turn), (length(self.x), length(self.y))
        width, height = length(self.width), length(self.height)

        def placed(u: float, v: float) -> tuple[float, float]:
            dx, dy = (u - 0.5) * width, (v - 0.5) * height
            return x + cos * dx - sin * dy, y + sin * dx + cos * dy

        return tuple(tuple(placed(*point) for point in loop) for loop in self.outline)
