"""Contrast evened locally: pale parts get as much of it as bold ones.

Every place is brought to the same mean and spread as all others: (v - mean) / spread, both taken
over a wide neighbourhood (Wallis filter; Wallis, An approach to the space variant restoration and
enhancement of images, 1976).
"""

from typing import Literal

import numpy as np

from kilncore.model.setting import setting
from kilncore.pixels.stored import deep, full_of, held_to_alpha, put
from kilncore.prep.base import Copy, Operation, operation
from kilncore.prep.wide_mean import SMALL, enlarged, small_copy, wide_mean
from kilncore.system.opencv import cv2

LEAST_SPREAD = 0.01
BAND_ROWS = 256


@operation(
    "even-contrast",
    title="Even out contrast",
    sentence="Pale parts get as much contrast as bold ones.",
    group="Tones",
)
class EvenContrast(Operation):
    """width : of the neighbourhood, a share of the longer side. strength : 1 evens out all of
    it.
    """

    kind: Literal["even-contrast"] = "even-contrast"
    width: float = setting(
        0.05,
        "Over",
        "",
        "slider",
        unit="% of its side",
        factor=100,
        soft=(1, 30),
        ge=0.005,
        le=1,
        step=0.5,
    )
    strength: float = setting(
        0.8, "Strength", "", "slider", unit="%", factor=100, soft=(0, 100), ge=0, le=1, step=1
    )

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """Evened out, every channel alike."""
        _, height, width = planes.shape
        out = np.empty(planes.shape, deep(planes.dtype))
        unit, share = np.float32(1 / full_of(planes)), np.float32(self.strength)
        for n, (plane, made) in enumerate(zip(planes, out, strict=True)):
            if n == 3:
                put(plane * unit, made)
                continue
            mean, spread = self._around(plane, copy)
            middle, wanted = np.float32(mean.mean()), np.float32(np.sqrt(np.mean(spread**2)))
            means, spreads = enlarged(mean, width, height), enlarged(spread, width, height)
            for top in range(0, height, BAND_ROWS):
                rows = slice(top, min(top + BAND_ROWS, height))
                values = plane[rows] * unit
                even = middle + (values - means(rows)) * (wanted / spreads(rows))
                put(values + share * (even - values), made[rows])
        return held_to_alpha(out)

    def _around(self, plane: np.ndarray, copy: Copy) -> tuple[np.ndarray, np.ndarray]:
        small = small_copy(plane)
        mean = wide_mean(small, self.width, copy.wraps)
        squares = wide_mean(_mean_squares(plane, small.shape), self.width, copy.wraps)
        spread = np.sqrt(np.maximum(squares - mean * mean, LEAST_SPREAD**2))
        return mean, spread

    def told(self) -> str:
        """How much."""
        return f"{100 * self.strength:.3g} %, over {100 * self.width:.3g} %"


def _mean_squares(plane: np.ndarray, shape: tuple[int, int]) -> np.ndarray:
    """The mean of the squared tones within each px of a small copy, a band of it at a time."""
    height, width = plane.shape
    out, unit = np.empty(shape, np.float32), np.float32(1 / full_of(plane))
    step = max(1, SMALL // 8)
    for first in range(0, shape[0], step):
        last = min(first + step, shape[0])
        top, stop = round(first * height / shape[0]), round(last * height / shape[0])
        squares = np.square(plane[top:stop] * unit)
        out[first:last] = cv2.resize(
            squares, (shape[1], last - first), interpolation=cv2.INTER_AREA
        )
    return out
