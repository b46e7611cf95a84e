"""Invert: dark becomes light."""

from typing import Literal

import numpy as np

from kilncore.prep.bands import through
from kilncore.prep.base import Copy, Operation, operation


@operation("invert", title="Invert", sentence="What is dark becomes light.", group="Tones")
class Invert(Operation):
    """Nothing to set."""

    kind: Literal["invert"] = "invert"

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """1 - v."""
        return through(planes, lambda tones: 1 - tones)
