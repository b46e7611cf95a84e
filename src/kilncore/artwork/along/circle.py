"""A circle of its own size: words outside it or inside, from any hour of its clock."""

import math
from collections.abc import Callable
from typing import Literal

from kilncore.artwork.along.base import Along, How, along, how_setting
from kilncore.model.setting import percent, setting
from kilncore.model.units import Length
from kilncore.typesetting.baselines import LEAST_RADIUS, Arc
from kilncore.typesetting.bending import Bend
from kilncore.typesetting.laid_out import LaidOut

SIDES = (("outside", "Outside"), ("inside", "Inside"))
FULL = (
    0.999  # of a circle: from here on the last letter is as far from the first as from the others
)
WIDEST = 200.0  # ems


@along("circle", title="Circle")
class CircleAlong(Along):
    """radius : of the first baseline. start_deg : where the words are aligned, clockwise from the
    top. spread : the share of the circle that the first line fills; 0 leaves it as it is set.
    """

    kind: Literal["circle"] = "circle"
    radius: Length = setting(Length(value=25, unit="%"), "Radius", "", "length", soft=(10, 1000))
    side: Literal["outside", "inside"] = setting("outside", "Side", "", "choice", choices=SIDES)
    start_deg: float = setting(
        0.0, "Where", "From the top, clockwise.", "slider", unit="°", soft=(-180, 180), step=1,
        ge=-360, le=360,
    )  # fmt: skip
    spread: float = percent(0.0, "Spread", "Over the circle; 0 as it is set.")
    how: How = how_setting()

    def bend(self, laid: LaidOut, ems: Callable[[Length], float]) -> Bend:
        """Around the middle of its box, which is as large as the circle, and letters outside."""
        radius = min(max(ems(self.radius), LEAST_RADIUS), WIDEST)
        outside = self.side == "outside"
        start = math.radians(self.start_deg - (0 if outside else 180))
        line = Arc(radius if outside else -radius, (0.0, 0.0), start)
        reach = radius + (laid.cap if outside else 0.0)
        return Bend(line, self._spread(laid, radius), self.how, (-reach, -reach, reach, reach))

    def _spread(self, laid: LaidOut, radius: float) -> float:
        """More from letter to letter."""
        letters = len({one.middle for one in laid.glyphs if one.line == 0})
        gaps = letters if self.spread > FULL else letters - 1
        if not self.spread or gaps < 1:
            return 0.0
        left = laid.lines[0][0]
        wide = laid.line_ends[0] - left
        return (self.spread * 2 * math.pi * radius - wide) / gaps
