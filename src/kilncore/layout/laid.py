"""What can be told of an item in perspective."""

import math
from typing import Any

from kilncore.document import Group, Mark
from kilncore.layout.layout import Layout
from kilncore.perspective.cylinder import Cylinder

CORNERS = ((-0.5, -0.5), (0.5, -0.5), (0.5, 0.5), (-0.5, 0.5))


def goes_round(layout: Layout, item: Mark | Group) -> tuple[float, float]:
    """(how many degrees an item goes round its cylinder, the share of its width that lies out of
    sight, 0..1); it must be wrapped round one.
    """
    width, height = layout.size(item.id)
    perspective: Any = item.placement.perspective
    own = perspective.parts(layout.ppi, height, layout.map(item).scale)
    cylinder = next(part for part in own if isinstance(part, Cylinder))
    lean = math.radians(perspective.axis_deg)
    across = abs(width * math.cos(lean)) + abs(height * math.sin(lean))
    first, last = (
        (side * across / 2 - cylinder.axis) / cylinder.radius + cylinder.turn for side in (-1, 1)
    )
    seen = max(0.0, min(last, math.pi / 2) - max(first, -math.pi / 2))
    return math.degrees(last - first), 1 - seen / max(last - first, 1e-9)


def enlargements(layout: Layout, item: Mark | Group) -> tuple[float, float]:
    """(the least, the most) that an item in perspective is enlarged at its corners and its middle,
    next to how it would lie flat.
    """
    (width, height), placed = layout.size(item.id), layout.map(item)
    projection: Any = layout.projection(item)
    places = [placed.point(x * width, y * height) for x, y in (*CORNERS, (0.0, 0.0))]
    factors = projection.enlarged(places)
    return float(factors.min()), float(factors.max())
