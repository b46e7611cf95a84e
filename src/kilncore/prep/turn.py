"""Turn: by quarters, clockwise."""

from typing import Literal

import numpy as np

from kilncore.model.setting import setting
from kilncore.prep.base import PICTURE, TEXTURE, Copy, Operation, operation

QUARTERS = (("1", "A quarter right"), ("2", "Half way round"), ("3", "A quarter left"))


@operation(
    "turn", title="Turn", sentence="The picture stands another way up.", serves=(PICTURE, TEXTURE)
)
class Turn(Operation):
    """quarters : how often it is turned by 90 degrees, clockwise."""

    kind: Literal["turn"] = "turn"
    quarters: Literal["1", "2", "3"] = setting("1", "Turn", "", "choice", choices=QUARTERS)

    def size(self, width: int, height: int) -> tuple[int, int]:
        """Sides change places for odd quarters."""
        return (width, height) if self.quarters == "2" else (height, width)

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """Turned."""
        return np.ascontiguousarray(np.rot90(planes, -int(self.quarters), (1, 2)))

    def carried(self, x: float, y: float) -> tuple[float, float]:
        """Turned about the middle."""
        for _ in range(int(self.quarters)):
            x, y = -y, x
        return x, y

    def told(self) -> str:
        """Which way."""
        return dict(QUARTERS)[self.quarters].lower()
