"""Nodes of a graph. Each is immutable and has

    key             a hash over all that its pixels depend on
    extent          the box beyond which it is transparent, or 0
    tint            the one straight colour of a picture that has no other; otherwise None
    sources         the nodes that it reads, each with the margin around a pixel that it needs
    settings        all else that its pixels depend on, apart from `wholes`; None if it is not told
    wholes          the nodes whose value is worked out before it is drawn (see `plane.WholeValue`)
    cheap           it is drawn faster than it could be stored
    drawn_from      the nodes from whose formats its own follows
    pixel_format    (assets, *formats) -> its own: which registers its pictures have
                    (see `kilncore.pixels.pixel_format`)
    onto            the node whose picture it writes on, pixel by pixel, in the same program; None
                    if there is none
    on_grid         it is only ever drawn in whole tiles of the fixed grid, and always kept
    within          a node that it reads pixel by pixel and beyond which it has nothing; None if
                    there is none
    write           (reader, program, box) -> its picture, as registers; None if there is nothing.
                    Only `box` of the program's box can have any

A picture's format follows from the node alone, never from the box: the way there and back again
would round.
"""

from dataclasses import dataclass
from typing import Any

from kilncore.geometry.box import NOWHERE, Box
from kilncore.graph.protocols import Assets
from kilncore.pixels.pixel_format import PixelFormat


class Node:
    """What is said of a node that says nothing else."""

    key: str
    extent: Box
    tint: tuple[float, ...] | None = None
    settings: tuple | None = None
    sources = ()
    wholes = ()
    cheap = False
    on_grid = False
    drawn_from = ()
    onto = None
    within = None

    def __init_subclass__(cls, **given: Any):
        # a dataclass would tell all that a node is made of, once for every way that leads there
        super().__init_subclass__(**given)
        cls.__repr__ = Node.__repr__  # type: ignore[method-assign]

    def __repr__(self) -> str:
        return f"{type(self).__name__} {self.key}"

    def pixel_format(self, assets: Assets | None, *formats: PixelFormat) -> PixelFormat:
        """Premultiplied colour with alpha."""
        return PixelFormat()


@dataclass(frozen=True)
class Nothing(Node):
    """A picture that is transparent everywhere."""

    key: str = "nothing"
    extent: Box = NOWHERE
    cheap = True
