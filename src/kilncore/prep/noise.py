"""Add noise: a value of its own for every speck, by place and seed alone."""

from typing import Literal

import numpy as np

from kilncore.model.setting import setting
from kilncore.noise.white import white_noise
from kilncore.prep.bands import by_bands
from kilncore.prep.base import Copy, Operation, operation


@operation("noise", title="Add noise", sentence="Flat areas come alive before a threshold.")
class Noise(Operation):
    """amount : the spread (standard deviation) of the noise, in tones. speck_px : how wide its
    grain is. seed : the same gives the same.
    """

    kind: Literal["noise"] = "noise"
    amount: float = setting(
        0.1, "Amount", "", "slider", unit="%", factor=100, soft=(0, 60), ge=0, le=2, step=0.5
    )
    speck_px: float = setting(
        1.0, "Grain", "", "size", unit="px", soft=(1, 20), ge=1, le=500, step=0.5
    )
    seed: int = setting(1, "Another", "", "count", soft=(0, 9999), ge=0, le=2**31 - 1, step=1)

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """With noise, the same in all channels. In a smaller copy a pixel is the mean of many."""
        speck = self.speck_px * copy.unit
        amount = np.float32(self.amount * min(speck, 1.0))
        cell = max(speck, 1.0)
        width = planes.shape[2]

        def work(band: np.ndarray, top: int) -> np.ndarray:
            step, smooth = 1 / cell, cell > 1
            matrix = (step, 0.0, 0.0, step, 0.0, 0.0)
            return band + amount * white_noise(
                matrix, 0, top, width, len(band), self.seed & 0xFFFFFFFF, smooth
            )

        return by_bands(planes, work)

    def told(self) -> str:
        """How much."""
        return f"{100 * self.amount:.3g} %, {self.speck_px:.3g} px"
