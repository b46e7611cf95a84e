"""Inside, or outside, a rectangle or ellipse on the piece."""

import math
from typing import Literal

from pydantic import Field

from kilncore.graph.plane import Plane
from kilncore.graph.sources import Sources
from kilncore.landing.limits.base import Limit, limit
from kilncore.model.units import Length, px
from kilncore.planes.region import RegionPlane


@limit("region", title="A region")
class RegionLimit(Limit):
    """x, y : its middle. feather : the width of the soft edge."""

    kind: Literal["region"] = "region"
    shape: Literal["rectangle", "ellipse"] = "rectangle"
    x: Length
    y: Length
    width: Length
    height: Length
    rotation_deg: float = Field(0.0, ge=-360, le=360)
    feather: Length = px(0)

    def plane(self, sources: Sources) -> Plane:
        """The rectangle or ellipse."""
        length = sources.frame.page_length
        return RegionPlane(
            self.shape,
            (length(self.x), length(self.y)),
            (length(self.width), length(self.height)),
            math.radians(self.rotation_deg),
            length(self.feather),
        )
