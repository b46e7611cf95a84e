"""A picture read as a mask.

Source: W3C CSS Masking Level 1 (luminance masks) with the BT.709 coefficients on sRGB-encoded values.
White reveals, black conceals (common practice).
"""

from dataclasses import dataclass, replace

import numpy as np

from kilncore.colour import BT709
from kilncore.kernels import kernel
from kilncore.planes import checked
from kilncore.rows.tape import Row


@dataclass(frozen=True)
class Mask:
    """Rows of how much is shown, 0..1, and of the mean of its squares where a draft has averaged it, which its blending
    needs; elsewhere that is None."""

    shown: Row
    squared: Row | None = None

    def held(self) -> "Mask":
        """Cut to 0..1."""
        return replace(self, shown=self.shown.held())

    def inverted(self) -> "Mask":
        return Mask(1 - self.shown, self._hidden_squared())

    def faded(self, weight) -> "Mask":
        """Taking away only so much of what it would, a number or a row."""
        hidden, squared = 1 - self.shown, self._hidden_squared()
        if squared is not None:
            squared = weight * weight * squared - 2 * weight * hidden + 1
        return Mask(1 - weight * hidden, squared)

    def firmness(self) -> Row | None:
        """How much is shown, on average, where anything is: 1 of a hard mask however little of it there is."""
        return None if self.squared is None else self.shown.tape.row("ratio", self.squared, self.shown).held()

    def _hidden_squared(self) -> Row | None:
        return None if self.squared is None else self.squared - 2 * self.shown + 1


def luminance(image: np.ndarray) -> np.ndarray:
    """(H, W, 4) straight picture to an (H, W) float32 mask, 0..1: luma times alpha."""
    image = checked(image)
    return (image[..., :3] @ BT709) * image[..., 3]


def levels(values, black, gamma, white):
    """Tones at or below `black` become 0, at or above `white` 1; gamma bends what lies between.

    values : (H, W) float32, 0..1. black, white : 0..1; equal, they make a threshold. gamma : above 0, 1 is straight.
    Source: the levels adjustment, common practice: ((v - black) / (white - black)) ** (1 / gamma).
    """
    return _levels(values, np.float32(black), np.float32(1 / max(white - black, 1e-6)), np.float32(1 / gamma))


@kernel
def _levels(values, black, slope, power):
    out = np.empty_like(values)
    for y in range(values.shape[0]):
        for x in range(values.shape[1]):
            out[y, x] = min(max(np.float32(0), (values[y, x] - black) * slope), np.float32(1))
        if power != np.float32(1):
            for x in range(values.shape[1]):
                out[y, x] = out[y, x] ** power
    return out


def levelled(row, black, gamma, white):
    """The same of a row on a tape."""
    row = row.tape.row("levels", row, numbers=(black, 1 / max(white - black, 1e-6)))
    return row if gamma == 1 else row.tape.row("power", row, numbers=(1 / gamma,))
