"""Make endless: pieces of the texture, laid so that nothing in it is seen twice (`pieces`)."""

from typing import ClassVar, Literal

import numpy as np

from kilncore.measure.piece_size import held_size
from kilncore.model.setting import setting
from kilncore.pixels.distance import signed_distance
from kilncore.pixels.stored import deep, full_of, held_to_alpha, put
from kilncore.prep.base import Copy, Operation, operation
from kilncore.prep.components import components_of
from kilncore.prep.cut_tones import two_tone
from kilncore.prep.pieces import Copied, laid
from kilncore.prep.tone_counts import tone_counts

MOST_SIDE, MOST_PIXELS = 8192, 40_000_000
FARTHEST = 0.25  # of a piece: how far from an edge distances are told


@operation(
    "endless",
    title="Make endless",
    sentence="Pieces of it, laid so that nothing is seen twice.",
    group="Repair",
)
class Endless(Operation):
    """times : how many times as large as the texture it becomes, each way. piece : px of the
    pieces; 0, a third of the shorter side.
    """

    kind: Literal["endless"] = "endless"
    times: float = setting(
        3.0, "Larger", "", "slider", unit="times", soft=(1, 6), ge=1, le=20, step=0.5
    )
    piece: float = setting(
        0.0,
        "Size of pieces",
        "0: a third of its shorter side.",
        "slider",
        unit="px",
        soft=(0, 800),
        ge=0,
        le=8192,
        step=10,
    )
    seed: int = setting(1, "Another", "", "count", soft=(0, 9999), ge=0, le=2**31 - 1, step=1)

    keeps_tones: ClassVar[bool] = True

    def size(self, width: int, height: int) -> tuple[int, int]:
        """So many times as large, within what a texture may be."""
        times = min(self.times, MOST_SIDE / max(width, height))
        times = max(1.0, min(times, (MOST_PIXELS / (width * height)) ** 0.5))
        return round(width * times), round(height * times)

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """Laid."""
        count, tall, wide = planes.shape
        whole = copy.whole or (round(wide / copy.unit), round(tall / copy.unit))
        width, height = self.size(*whole)
        side = held_size(whole, self.piece or float("inf"))
        size = [max(1, round(one * copy.unit)) for one in (height, width)]
        out = np.empty((count, *size), deep(planes.dtype))
        of = Copied(copy.unit, *whole)
        made = components_of(planes, _ranks(planes, side * copy.unit))
        for rows, band in laid(made, width, height, self.seed, side, of):
            put(band, out[:, rows])
        return held_to_alpha(out)

    def wraps_after(self, wraps: bool) -> bool:
        """It repeats."""
        return True

    def told(self) -> str:
        """How much larger."""
        return f"{self.times:.3g} times as large"


def _ranks(planes: np.ndarray, side: float) -> np.ndarray | None:
    """Of one plane of two tones, how far each px lies from the edges of its specks: blends of two
    tones alone would show where the pieces lie.
    """
    if len(planes) > 1 or not two_tone(tone_counts(planes)):
        return None
    most = max(side * FARTHEST, 2.0)
    distance = signed_distance(planes[0] * np.float32(1 / full_of(planes)), most)
    return (distance / np.float32(2 * most) + np.float32(0.5))[None]
