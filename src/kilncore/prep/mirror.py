"""Mirror: one half, and its mirror image in the place of the other; it repeats without a seam."""

from typing import Literal

import numpy as np
from pydantic import model_validator

from kilncore.model.setting import setting
from kilncore.prep.base import Copy, Operation, operation


@operation("mirror", title="Mirror", sentence="One half and its mirror image: no seam.")
class Mirror(Operation):
    """across, down : whether the left half is mirrored to the right, and the upper one down."""

    kind: Literal["mirror"] = "mirror"
    across: bool = setting(True, "Left half to the right", "", "toggle")
    down: bool = setting(False, "Upper half down", "", "toggle")

    @model_validator(mode="after")
    def _one_way(self):
        if not (self.across or self.down):
            raise ValueError("a mirror needs one way at least")
        return self

    def size(self, width: int, height: int) -> tuple[int, int]:
        """Even along the ways that are mirrored."""
        return (
            max(2, width // 2 * 2) if self.across else width,
            max(2, height // 2 * 2) if self.down else height,
        )

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """Mirrored."""
        for axis, wanted in ((2, self.across), (1, self.down)):
            if wanted:
                half = np.take(planes, range(max(1, planes.shape[axis] // 2)), axis)
                planes = np.concatenate([half, np.flip(half, axis)], axis)
        return planes

    def wraps_after(self, wraps: bool) -> bool:
        """Mirrored both ways it repeats."""
        return wraps or (self.across and self.down)
