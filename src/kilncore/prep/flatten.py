"""Flatten lighting: every place is divided by how bright it is around there."""

from typing import Literal

import numpy as np

from kilncore.model.setting import setting
from kilncore.pixels.stored import deep, full_of, held_to_alpha, put
from kilncore.prep.base import Copy, Operation, operation
from kilncore.prep.grey import one_tone
from kilncore.prep.wide_mean import enlarged, small_copy, wide_mean

LEAST = 4 / 255  # of light: what is darker is not divided by
BAND_ROWS = 256


@operation(
    "flatten",
    title="Flatten lighting",
    sentence="Light that falls off to one side, or a vignette, is evened out.",
    group="Repair",
)
class Flatten(Operation):
    """out = v x mean / light. width : what counts as lighting is wider than this share of the
    longer side. strength : 1 takes all of it away. colours : each channel by itself, so that a
    drift of colour goes too.
    """

    kind: Literal["flatten"] = "flatten"
    width: float = setting(
        0.125,
        "Wider than",
        "",
        "slider",
        unit="% of its side",
        factor=100,
        soft=(2, 50),
        ge=0.01,
        le=1,
        step=0.5,
    )
    strength: float = setting(
        1.0, "Strength", "", "slider", unit="%", factor=100, soft=(0, 100), ge=0, le=1, step=1
    )
    colours: bool = setting(True, "Even out colour drift too", "", "toggle")

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """Evenly lit."""
        lights = [self._light(plane, copy) for plane in self._read(planes)]
        _, height, width = planes.shape
        out = np.empty(planes.shape, deep(planes.dtype))
        unit = np.float32(1 / full_of(planes))
        for n, (plane, made) in enumerate(zip(planes, out, strict=True)):
            if n == 3:
                put(plane * unit, made)
                continue
            light, mean = lights[min(n, len(lights) - 1)]
            lit = enlarged(light, width, height)
            for top in range(0, height, BAND_ROWS):
                rows = slice(top, min(top + BAND_ROWS, height))
                evened = plane[rows] * unit * (np.float32(mean) / lit(rows))
                put(evened, made[rows])
        return held_to_alpha(out)

    def _read(self, planes: np.ndarray) -> np.ndarray:
        return planes[:3] if self.colours or len(planes) == 1 else one_tone(planes)

    def _light(self, plane: np.ndarray, copy: Copy) -> tuple[np.ndarray, float]:
        """How bright it is around each place of a small copy, and on the whole."""
        light = np.maximum(wide_mean(small_copy(plane), self.width, copy.wraps), LEAST)
        mean = float(light.mean())
        return light**self.strength, mean**self.strength

    def told(self) -> str:
        """What counts as lighting."""
        return f"wider than {100 * self.width:.3g} % of its side"
