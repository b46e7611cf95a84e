"""One colour."""

from dataclasses import dataclass
from typing import Literal

from kilncore.compiled.program import Program
from kilncore.fills.base import GROUND, Area, Fill, fill
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets, NodeReader
from kilncore.model.setting import setting
from kilncore.pixels.colour import HexColour, hex_to_rgb
from kilncore.pixels.picture import Picture
from kilncore.pixels.pixel_format import OPAQUE, PixelFormat

STOCK = "#f4f0e7"


@fill("colour", title="Colour", summary="a colour", fills=(GROUND,))
class ColourFill(Fill):
    """A plain stock."""

    kind: Literal["colour"] = "colour"
    colour: HexColour = setting(STOCK, "Colour", "Of the stock.", "colour")

    def node(self, area: Area) -> Node:
        """The colour, everywhere."""
        return ColourNode(self.colour)


@dataclass(frozen=True)
class ColourNode(Node):
    """One opaque colour, '#rrggbb', everywhere."""

    colour: str
    extent: Box = EVERYWHERE
    cheap = True

    @property
    def key(self) -> str:
        """Its colour says all."""
        return f"colour {self.colour}"

    def pixel_format(self, assets: Assets | None) -> PixelFormat:
        """Opaque."""
        return OPAQUE

    def write(self, reader: NodeReader, program: Program, box: Box) -> Picture:
        """Three constants."""
        return Picture(program, tuple(program.constant(float(c)) for c in hex_to_rgb(self.colour)))
