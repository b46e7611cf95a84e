"""A mask as registers of a program."""

from dataclasses import dataclass, replace

from kilncore.compiled.program import Register


@dataclass(frozen=True)
class Mask:
    """Registers of how much is shown, 0..1, and of the mean of its squares where a draft has
    averaged it, which its blending needs; elsewhere that is None."""

    shown: Register
    squared: Register | None = None

    def clamped(self) -> "Mask":
        """Cut to 0..1."""
        return replace(self, shown=self.shown.clamped())

    def inverted(self) -> "Mask":
        """Black reveals, white conceals."""
        return Mask(1 - self.shown, self._hidden_squared())

    def faded(self, weight: Register | float) -> "Mask":
        """Taking away only so much of what it would, a number or a register."""
        hidden, squared = 1 - self.shown, self._hidden_squared()
        if squared is not None:
            squared = weight * weight * squared - 2 * weight * hidden + 1
        return Mask(1 - weight * hidden, squared)

    def solidity(self) -> Register | None:
        """How much is shown, on average, where anything is: 1 of a hard mask however little of it
        there is.
        """
        return (
            None
            if self.squared is None
            else self.shown.program.op("ratio", self.squared, self.shown).clamped()
        )

    def _hidden_squared(self) -> Register | None:
        return None if self.squared is None else self.squared - 2 * self.shown + 1
