"""A chain of operations: how large its result is, and what it is made of."""

import math
from typing import Annotated

import numpy as np
from pydantic import AfterValidator, Field

from kilncore.model.registry import OneOf
from kilncore.prep.base import OPERATIONS, PICTURE, TEXTURE, Copy, Operation
from kilncore.prep.tone_counts import tone_counts

MOST_OPERATIONS = 20
MOST_LEVELS = 6
DRAFT_PIXELS = 1_200_000  # of a copy that is prepared while something moves


def _serving(what: str) -> AfterValidator:
    def check(chain: tuple[Operation, ...]) -> tuple[Operation, ...]:
        for one in chain:
            if what not in OPERATIONS.named(one.kind).serves:
                raise ValueError(f"a {what} cannot be prepared by {one.kind!r}")
        return chain

    return AfterValidator(check)


def _told_apart(chain: tuple[Operation, ...]) -> tuple[Operation, ...]:
    """Of two with one id the later gets another: edits name operations by their ids."""
    known, named = set(), []
    for one in chain:
        name, number = one.id, 2
        while name in known:
            name, number = f"{one.id[:34]}-{number}", number + 1
        known.add(name)
        named.append(one if name == one.id else one.model_copy(update={"id": name}))
    return tuple(named)


_Operations = Annotated[
    tuple[Annotated[Operation, OneOf(OPERATIONS)], ...], AfterValidator(_told_apart)
]
Chain = Annotated[_Operations, Field(max_length=MOST_OPERATIONS), _serving(PICTURE)]
TextureChain = Annotated[_Operations, Field(max_length=MOST_OPERATIONS), _serving(TEXTURE)]


def in_use(chain: tuple[Operation, ...]) -> tuple[Operation, ...]:
    """Those that are switched on."""
    return tuple(operation for operation in chain if operation.on)


def makes_seamless(chain: tuple[Operation, ...]) -> bool:
    """Whether one of its operations makes what does not repeat repeat."""
    return any(operation.wraps_after(False) for operation in in_use(chain))


def size_of(chain: tuple[Operation, ...], width: int, height: int) -> tuple[int, int]:
    """Width and height of the result, from those of the picture."""
    for operation in in_use(chain):
        width, height = operation.size(width, height)
    return width, height


def prepared(
    chain: tuple[Operation, ...], planes: np.ndarray, unit: float = 1.0, wraps: bool = False
) -> np.ndarray:
    """The result. planes : (C, H, W) of the picture, or of a copy of it of which `unit` px are one
    of the picture. wraps : whether it repeats beyond its edges.
    """
    for operation in in_use(chain):
        made = operation.solved(tone_counts(planes)) if operation.reads_tones else operation
        planes = made.prepared(planes, Copy(unit, wraps))
        wraps = operation.wraps_after(wraps)
    return np.ascontiguousarray(planes)


def meaning(chain: tuple[Operation, ...]) -> tuple:
    """What the result depends on: the settings of those that are on, without their ids."""
    return tuple(operation.model_dump_json(exclude={"id", "on"}) for operation in in_use(chain))


def draft_level(
    chain: tuple[Operation, ...], width: int, height: int, scale: float, shown: float
) -> int:
    """How often the copy is halved from which a picture of width x height px is drawn.

    Exact at scale 1 and above: not at all. In a draft as often as it shows, `shown` output px to
    one of the picture, and no more than DRAFT_PIXELS of it where the chain has work to do.
    """
    if scale >= 1:
        return 0
    seen = max(0, math.floor(math.log2(1 / max(shown, 1e-6)) + 1e-9))
    pixels = max(width * height, math.prod(size_of(chain, width, height)))
    heavy = pixels / DRAFT_PIXELS if in_use(chain) else 1
    return min(max(seen, math.ceil(math.log2(max(heavy, 1)) / 2)), MOST_LEVELS)


def middle_of(chain: tuple[Operation, ...], width: int, height: int) -> tuple[float, float]:
    """Where the middle of the result lies from the picture's middle, in px of the picture as the
    chain turns it.

    Turning and flipping keep the middle, and turn and flip what was cut off before them.
    """
    x = y = 0.0
    for operation in in_use(chain):
        share = operation.middle()
        x, y = operation.carried(x, y)
        x, y = x + (share[0] - 0.5) * width, y + (share[1] - 0.5) * height
        width, height = operation.size(width, height)
    return x, y
