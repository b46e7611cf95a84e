"""What a maker is, and how one is added.

A maker is one module: a frozen settings model and a function of (settings, width, height, seed)
that returns (C, height, width) uint8 planes, C = 1 grey or 3 colour. Its result has no seam, is the
same for the same seed, and more pixels show more of it, never a larger copy. Register it with
`@maker(...)` and name it in `makers/__init__.py`.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from kilncore.errors import KilnError
from kilncore.model.base import Model
from kilncore.model.registry import Registry

LEAST_PX, MOST_PX, MOST_PIXELS = 64, 8192, 40_000_000


@dataclass(frozen=True)
class Maker:
    """good_for : what its textures serve best, in plain words. make : (settings, width, height,
    seed) -> planes.
    """

    name: str
    title: str
    good_for: str
    settings: type[Model]
    make: Callable


MAKERS = Registry("a maker")
maker = MAKERS.decorator(Maker, "make")


def make(
    name: str, width: int, height: int, seed: int, settings: Model | None = None
) -> np.ndarray:
    """(C, height, width) uint8 planes of a seamless texture; KilnError for an unknown maker or an
    impossible size.
    """
    used = MAKERS.named(name)
    sides = (width, height)
    if min(sides) < LEAST_PX or max(sides) > MOST_PX or width * height > MOST_PIXELS:
        raise KilnError(
            f"A made texture must be {LEAST_PX} to {MOST_PX} px each way and "
            f"{MOST_PIXELS // 10**6} million px at most.",
            f"{width} x {height}",
        )
    return used.make(settings or used.settings(), width, height, seed)
