"""Blur: a true Gaussian (`kilncore.blur`). Before a threshold it makes fewer, larger specks."""

from typing import Literal

import numpy as np

from kilncore.blur import blur_within, reach
from kilncore.model.setting import setting
from kilncore.prep.bands import by_bands
from kilncore.prep.base import Copy, Operation, operation

MOST_PX = 200.0


@operation("blur", title="Blur", sentence="Softer; before a threshold, fewer and larger specks.")
class Blur(Operation):
    """sigma_px : the Gaussian's standard deviation."""

    kind: Literal["blur"] = "blur"
    sigma_px: float = setting(
        2.0, "Sigma", "", "size", unit="px", soft=(0, 40), ge=0, le=MOST_PX, step=0.1
    )

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """Blurred."""
        return blurred(planes, self.sigma_px * copy.unit, copy.wraps)

    def told(self) -> str:
        """How much."""
        return f"sigma {self.sigma_px:.3g} px"


def blurred(planes: np.ndarray, sigma: float, wraps: bool) -> np.ndarray:
    """Planes of 16 bits (floats of floats), blurred by `sigma` px."""
    far = reach(sigma)

    def work(band: np.ndarray, top: int) -> np.ndarray:
        return blur_within(band[None], sigma, sigma, -far, top - far)[0] if sigma else band

    return by_bands(planes, work, far, wraps)
