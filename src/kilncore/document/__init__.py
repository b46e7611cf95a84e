"""The document of a piece: one validated, immutable tree, written as JSON. docs/engine.md says what
it means.

An upgrade from an older format is one module in `kilncore/upgrades/`; a document newer than FORMAT
is refused.
"""

from kilncore.document.items import (
    MAX_ITEMS,
    MAX_STEPS,
    FrameShift,
    Group,
    Item,
    Mark,
    Placement,
    Step,
    Treatment,
    new_seed,
)
from kilncore.document.piece import (
    BACKDROPS,
    MAX_DEPTH,
    MAX_PIXELS,
    MAX_SIDE_PX,
    Ground,
    PageFrame,
    Piece,
    sort_of,
)
from kilncore.document.reading import FORMAT, MAX_BYTES, dump, load

__all__ = [
    "BACKDROPS",
    "FORMAT",
    "FrameShift",
    "Ground",
    "Group",
    "Item",
    "MAX_BYTES",
    "MAX_DEPTH",
    "MAX_ITEMS",
    "MAX_PIXELS",
    "MAX_SIDE_PX",
    "MAX_STEPS",
    "Mark",
    "PageFrame",
    "Piece",
    "Placement",
    "Step",
    "Treatment",
    "dump",
    "load",
    "new_seed",
    "sort_of",
]
