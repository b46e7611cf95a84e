"""Sharpen: what a blur would take away is added."""

from typing import Literal

import numpy as np

from kilncore.blur import blur_within, reach
from kilncore.model.setting import setting
from kilncore.prep.bands import by_bands
from kilncore.prep.base import Copy, Operation, operation


@operation("sharpen", title="Sharpen", sentence="Fine detail stands out more.")
class Sharpen(Operation):
    """out = v + amount (v - blurred v). radius_px : the blur's sigma."""

    kind: Literal["sharpen"] = "sharpen"
    amount: float = setting(
        1.0, "Amount", "", "slider", unit="%", factor=100, soft=(0, 400), ge=0, le=10, step=5
    )
    radius_px: float = setting(
        1.5, "Width", "", "size", unit="px", soft=(0.3, 20), ge=0.1, le=100, step=0.1
    )

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """Sharper."""
        sigma, amount = self.radius_px * copy.unit, np.float32(self.amount)
        far = reach(sigma)

        def work(band: np.ndarray, top: int) -> np.ndarray:
            soft = blur_within(band[None], sigma, sigma, -far, top - far)[0]
            own = band[far : len(band) - far, far : band.shape[1] - far]
            return own + amount * (own - soft)

        return by_bands(planes, work, far, copy.wraps)

    def told(self) -> str:
        """How much."""
        return f"{100 * self.amount:.3g} %, {self.radius_px:.3g} px"
