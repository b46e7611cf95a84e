"""To grey: a weighted mean of the channels, or one of them."""

from typing import Literal

import numpy as np

from kilncore.model.setting import setting
from kilncore.pixels.colour import LUMA
from kilncore.pixels.stored import deep, full_of, put
from kilncore.prep.base import Copy, Operation, operation

BAND_ROWS = 256
CLEAR = (("white", "White: it stays"), ("black", "Black: it is taken away"))


def _weight(number: int, title: str):
    share = LUMA[number]
    return setting(
        share, title, "", "slider", unit="%", factor=100, soft=(0, 100), ge=0, le=1, step=1
    )


@operation("grey", title="To grey", sentence="Channels become one tone.", group="Tones")
class Grey(Operation):
    """red, green, blue : how much each counts; only their proportion matters. clear : what stands
    where a texture is see-through.
    """

    kind: Literal["grey"] = "grey"
    red: float = _weight(0, "Red")
    green: float = _weight(1, "Green")
    blue: float = _weight(2, "Blue")
    clear: Literal["white", "black"] = setting(
        "white", "See-through counts as", "", "choice", choices=CLEAR
    )

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """(1, H, W)."""
        return greyed(planes, (self.red, self.green, self.blue), self.clear == "white")

    def told(self) -> str:
        """The weights that count."""
        named = (("red", self.red), ("green", self.green), ("blue", self.blue))
        whole = sum(share for _, share in named)
        if whole <= 0:
            return "all alike"
        return ", ".join(f"{name} {share / whole:.0%}".replace("%", " %") for name, share in named)


def greyed(planes: np.ndarray, weights: tuple[float, ...], on_white: bool = True) -> np.ndarray:
    """(1, H, W): the channels by their weights, brought to a sum of 1; alike if all are 0."""
    whole = sum(weights)
    shares = np.array([w / whole if whole > 0 else 1 / 3 for w in weights], np.float32)
    if len(planes) == 1:
        return planes
    out = np.empty((1, *planes.shape[1:]), deep(planes.dtype))
    unit = np.float32(1 / full_of(planes))
    for top in range(0, planes.shape[1], BAND_ROWS):
        band = planes[:, top : top + BAND_ROWS]
        tones = sum(share * plane for share, plane in zip(shares * unit, band[:3], strict=True))
        if len(band) == 4 and on_white:
            tones = tones + (1 - band[3] * unit)
        put(tones, out[0, top : top + BAND_ROWS])
    return out


def one_tone(planes: np.ndarray) -> np.ndarray:
    """(1, H, W): grey as it is, colour by its luma, on white."""
    return greyed(planes, LUMA)
