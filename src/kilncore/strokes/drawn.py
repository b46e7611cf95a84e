"""A stroke as it is drawn: its way in full, how wide it is along it, and what it is drawn with."""

from dataclasses import dataclass

import numpy as np

from kilncore.strokes.tip import Tip


@dataclass(frozen=True, eq=False)
class Rough:
    """How the dabs of a rough tip are laid. turn : radians. The rest is as `Stroke` has it."""

    tip: Tip
    loaded: float
    gap: float
    turn: float
    follows: bool
    turns: float
    sizes: float
    strays: float
    flips: bool
    eases: float
    seed: int


@dataclass(frozen=True, eq=False)
class Drawn:
    """A stroke as it is drawn. points : (N, 2) float64. pressures : (N,) float64 of a pen, or None.
    widths : (N,) float64, the share of its width that it has at each; None where it has all of it.
    flat : its ends are cut off. rough : None of the smooth round tip.
    """

    back: bool
    points: np.ndarray
    radius: float
    hardness: float
    strength: float
    pressures: np.ndarray | None = None
    widths: np.ndarray | None = None
    flat: bool = False
    rough: Rough | None = None
    id: int = 0

    @property
    def nbytes(self) -> int:
        """Bytes of its points."""
        return self.points.nbytes

    @property
    def reach(self) -> float:
        """How far from its way it may cover something, in the frame's units."""
        if self.rough is None:
            return self.radius
        return self.radius * ((1 + self.rough.sizes) * 2**0.5 + 2 * self.rough.strays)
