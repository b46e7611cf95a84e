"""Near black and white: a texture reduced to almost only those, with a wanted share of black as an
aim.
"""

from typing import Literal

import numpy as np
from pydantic import model_validator

from kilncore.model.setting import percent, setting, tone
from kilncore.prep.bands import through
from kilncore.prep.base import Copy, Operation, operation
from kilncore.prep.grey import one_tone
from kilncore.prep.threshold import FLAT, NO_CONTRAST
from kilncore.prep.tone_counts import spread
from kilncore.solve.points import LEAST_CONTRAST, black_point, taken

MISSED = 0.02  # of the whole: an aim is missed by more
BELOW, ABOVE = -1.0, 2.0


@operation(
    "two-tone",
    title="Near black and white",
    sentence="Almost only black and white, in the share you want.",
    group="Tones",
)
class TwoTone(Operation):
    """aim : whether `share` of black is solved for, or the points are as they are set. contrast :
    from the black point to the white one.
    """

    kind: Literal["two-tone"] = "two-tone"
    reads_tones = True
    aim: bool = setting(True, "Aim at a share of black", "", "toggle", reload=True)
    share: float = percent(0.12, "Black", soft=(0, 60), step=0.5, if_="aim")
    contrast: float = tone(0.15, "Softness", soft=(1, 128), step=1, if_="aim")
    black: float = tone(0.3, "Black up to", least=BELOW, most=ABOVE, if_="!aim")
    white: float = tone(0.6, "White from", least=BELOW, most=ABOVE, if_="!aim")

    @model_validator(mode="after")
    def _in_order(self):
        if self.black > self.white:
            raise ValueError("the black point must not lie above the white point")
        return self

    @property
    def parts_within(self) -> float:
        """Its softness."""
        return self.contrast if self.aim else self.white - self.black

    def solved(self, counts: np.ndarray) -> "TwoTone":
        """With the points that give the share; those of the nearest one where it cannot be met."""
        if not self.aim:
            return self
        black = black_point(counts, _possible(counts, self.share, self.contrast), self.contrast)
        points = {"black": black, "white": black + max(self.contrast, LEAST_CONTRAST)}
        return self.model_copy(update={"aim": False, **points})

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """(1, H, W)."""
        wide = max(self.white - self.black, LEAST_CONTRAST)
        return through(one_tone(planes), lambda tones: (tones - self.black) / wide)

    def told(self) -> str:
        """The aim or the points."""
        if self.aim:
            return f"{100 * self.share:.4g} % black, solved"
        return f"{round(255 * self.black)} to {round(255 * self.white)}"

    def notes(self, width: int, height: int, counts: np.ndarray | None) -> tuple[str, ...]:
        """The share that comes of it, the points, and whether the aim was met."""
        if counts is None:
            return ()
        levels = self.solved(counts)
        share = taken(counts, levels.black, levels.white - levels.black)
        points = f"{round(255 * levels.black)} and {round(255 * levels.white)}"
        sentences: tuple[str, ...] = (f"{100 * share:.1f} % black; points at {points}.",)
        if self.aim and abs(share - self.share) > MISSED / 4:
            sentences += (
                f"{100 * self.share:.4g} % cannot be met: its tones come in lumps. "
                f"{100 * share:.1f} % is the nearest; blur it a little before, to have more.",
            )
        if spread(counts) < FLAT:
            sentences += (NO_CONTRAST,)
        elif share > 0.98 or share < 0.002:
            left = "black" if share > 0.5 else "white"
            sentences += (f"All but nothing of it is {left}: choose another share.",)
        return sentences


def _possible(counts: np.ndarray, share: float, contrast: float) -> float:
    """The share, if tones can be parted so that about so much is truly black; else the nearest at
    which they can.
    """
    black = black_point(counts, share, contrast)
    reached = np.cumsum(counts) / max(counts.sum(), 1)
    last = len(counts) - 1
    at = min(max(round((black + contrast / 2) * last), 0), last)
    hard = float(reached[at])
    if abs(hard - share) <= MISSED + share * 0.25 or spread(counts) < FLAT:
        return share
    shares = np.unique(np.concatenate([[0.0], reached]))
    return float(shares[np.argmin(np.abs(shares - share))])
