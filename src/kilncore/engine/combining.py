"""Members of a group put together: united, cut out of the lowest, or kept where all of them meet.

Plain outlines are combined as outlines, so that no seam shows where edges lie on one another. All
else, pictures and what is worn, by coverage.
"""

from dataclasses import dataclass, field
from typing import Any

from kilncore.artwork.inked import Ink, InkedDrawing
from kilncore.compiled.program import Program
from kilncore.errors import KilnError
from kilncore.geometry.box import Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets, NodeReader
from kilncore.pixels.picture import Picture
from kilncore.pixels.pixel_format import PixelFormat
from kilncore.shapes.combined import CUT, MET, UNITED, combined
from kilncore.typesetting.outline import Outline

STACKED = "stacked"
__all__ = ["CUT", "MET", "STACKED", "UNITED", "Combined", "outlined"]


def outlined(drawings: list[Any], how: str) -> InkedDrawing | None:
    """Drawings as one, in the colour of the lowest; None where they are not all plain outlines that
    lie flat.
    """
    for one in drawings:
        plain = isinstance(one, InkedDrawing) and one.projection is None and len(one.inks) == 1
        if not plain or one.inks[0].cut is not None:
            return None
    placed = [Outline(one.inks[0].edges, 0, 0).placed(one.matrix) for one in drawings]
    try:
        edges = combined(placed, how)
    except KilnError:
        return None
    told = key_of("combined", how, *(one.key for one in drawings))
    return InkedDrawing(told, (Ink(edges, drawings[0].inks[0].colour),), (1, 0, 0, 1, 0, 0))


@dataclass(frozen=True)
class Combined(Node):
    """By coverage. lower : what stays, where the upper is not (CUT), or where it is (MET)."""

    lower: Node
    upper: Node
    how: str
    key: str = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        object.__setattr__(
            self, "key", key_of("combined", self.lower.key, self.upper.key, self.how)
        )
        both = self.lower.extent
        both = both if self.how == CUT else both.intersection(self.upper.extent)
        object.__setattr__(self, "extent", both)

    @property
    def settings(self):
        """How."""
        return (self.how,)

    @property
    def sources(self):
        """Both, pixel by pixel."""
        return (self.lower, 0), (self.upper, 0)

    @property
    def drawn_from(self):
        """Both."""
        return self.lower, self.upper

    @property
    def within(self):
        """The lower one."""
        return self.lower

    def pixel_format(
        self, assets: Assets | None, lower: PixelFormat, upper: PixelFormat
    ) -> PixelFormat:
        """With alpha."""
        return PixelFormat()

    def write(self, reader: NodeReader, program: Program, box: Box) -> Picture | None:
        """The lower one, times how much is left of it."""
        lower = reader.picture(self.lower, program)
        if lower is None:
            return None
        upper = reader.picture(self.upper, program)
        if upper is None:
            return lower if self.how == CUT else None
        there = upper.alpha if upper.alpha is not None else program.constant(1)
        left = program.constant(1) - there if self.how == CUT else there
        filled = lower.premultiply()
        colour = tuple(row * left for row in filled.colour)
        return Picture(program, colour, filled.covered * left, premultiplied=True)
