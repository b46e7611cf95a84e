"""A wave."""

from collections.abc import Callable
from typing import Literal

from kilncore.artwork.along.base import Along, How, along, how_setting
from kilncore.model.setting import percent, setting
from kilncore.model.units import Length
from kilncore.typesetting.baselines import wave_of
from kilncore.typesetting.bending import Bend
from kilncore.typesetting.laid_out import LaidOut

SHORTEST = 0.2  # ems


@along("wave", title="Wave")
class WaveAlong(Along):
    """height : from its middle to a crest, in ems. waves : along the widest line."""

    kind: Literal["wave"] = "wave"
    height: float = percent(0.3, "Height", "Of the type size.", -2, 2, soft=(-100, 100))
    waves: float = setting(
        1.0, "Waves", "Along the words.", "slider", soft=(0.25, 4), step=0.05, ge=0.1, le=40
    )
    how: How = how_setting()

    def bend(self, laid: LaidOut, ems: Callable[[Length], float]) -> Bend:
        """Up in their middle's left."""
        long = max(laid.width / self.waves, SHORTEST)
        return Bend(wave_of(self.height, long, laid.width), how=self.how)
