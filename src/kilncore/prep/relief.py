"""Relief: lit from one side, as if dark were deep. What is flat lands on exactly 50 % grey, so that
overlay and soft light leave it alone (common practice).
"""

import math
from typing import Literal

import numpy as np

from kilncore.blur import blur_within, reach
from kilncore.model.setting import setting
from kilncore.prep.bands import by_bands
from kilncore.prep.base import Copy, Operation, operation
from kilncore.prep.grey import one_tone


@operation("relief", title="Relief", sentence="Lit from one side; what is flat becomes 50 % grey.")
class Relief(Operation):
    """out = 0.5 + height x the slope towards the light. angle_deg : where the light comes from, 0
    from the right, 90 from above. height_px : a full change of tone is so many px high. smooth_px :
    the sigma by which it is smoothed before.
    """

    kind: Literal["relief"] = "relief"
    angle_deg: float = setting(
        135.0, "Light from", "", "slider", unit="°", soft=(0, 360), ge=-360, le=360, step=1
    )
    height_px: float = setting(
        2.0, "Height", "", "size", unit="px", soft=(0, 20), ge=0, le=200, step=0.1
    )
    smooth_px: float = setting(
        0.7, "Smoothed by", "", "size", unit="px", soft=(0, 10), ge=0, le=100, step=0.1
    )

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """(1, H, W)."""
        sigma, high = self.smooth_px * copy.unit, np.float32(self.height_px * copy.unit / 2)
        across = np.float32(math.cos(math.radians(self.angle_deg)))
        down = np.float32(-math.sin(math.radians(self.angle_deg)))
        far = reach(sigma)

        def work(band: np.ndarray, top: int) -> np.ndarray:
            if sigma:
                band = blur_within(band[None], sigma, sigma, -far, top - far - 1)[0]
            slope = across * (band[1:-1, :-2] - band[1:-1, 2:])
            slope += down * (band[:-2, 1:-1] - band[2:, 1:-1])
            return np.float32(0.5) + high * slope

        return by_bands(one_tone(planes), work, far + 1, copy.wraps)

    def told(self) -> str:
        """Light and height."""
        return f"from {self.angle_deg:.0f}°, {self.height_px:.3g} px high"
