"""Flip and mirror."""

from typing import Literal

import numpy as np

from kilncore.model.setting import setting
from kilncore.prep.base import PICTURE, TEXTURE, Copy, Operation, operation

WAYS = (("across", "Mirror: left and right"), ("down", "Flip: top and bottom"))


@operation(
    "flip", title="Flip", sentence="The picture the other way round.", serves=(PICTURE, TEXTURE)
)
class Flip(Operation):
    """way : 'across' changes left and right, 'down' top and bottom."""

    kind: Literal["flip"] = "flip"
    way: Literal["across", "down"] = setting("across", "Way", "", "choice", choices=WAYS)

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """The other way round."""
        return np.ascontiguousarray(np.flip(planes, 2 if self.way == "across" else 1))

    def carried(self, x: float, y: float) -> tuple[float, float]:
        """On the other side of the middle."""
        return (-x, y) if self.way == "across" else (x, -y)
