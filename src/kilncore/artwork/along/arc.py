"""An arc: words bend over a share of a circle, as large as they need."""

from collections.abc import Callable
from typing import Literal

from kilncore.artwork.along.base import Along, How, along, how_setting
from kilncore.model.setting import setting
from kilncore.model.units import Length
from kilncore.typesetting.baselines import arc_of
from kilncore.typesetting.bending import Bend
from kilncore.typesetting.laid_out import LaidOut


@along("arc", title="Arc")
class ArcAlong(Along):
    """turn_deg : how far the widest line goes round; below 0 its middle hangs down."""

    kind: Literal["arc"] = "arc"
    turn_deg: float = setting(
        90.0,
        "Bend",
        "Below 0 it hangs.",
        "slider",
        unit="°",
        soft=(-180, 180),
        step=1,
        ge=-350,
        le=350,
    )
    how: How = how_setting()

    def bend(self, laid: LaidOut, ems: Callable[[Length], float]) -> Bend:
        """Around a middle below or above them."""
        return Bend(arc_of(self.turn_deg / 360, laid.width), how=self.how)
