"""A straight gradient: colours along a line across the piece.

Between two stops the encoded colours are mixed, as CSS Images Level 3 does for linear-gradient(),
whose angle and length these are too: 0 degrees points up, 90 to the right, and the line is as long
as it takes for the corners to have the colours of its ends.
"""

import math
from dataclasses import dataclass, field
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from kilncore.compiled.program import Program
from kilncore.fills.base import Fill, fill
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets, NodeReader
from kilncore.model.base import Model
from kilncore.model.frame import Frame
from kilncore.model.setting import setting
from kilncore.pixels.colour import HexColour, hex_to_rgb
from kilncore.pixels.picture import Picture
from kilncore.pixels.pixel_format import OPAQUE, PixelFormat

MOST_STOPS = 8


class Stop(Model):
    """at : its place along the line, 0..1."""

    at: float = Field(ge=0, le=1)
    colour: HexColour


@fill("gradient", title="Gradient", summary="a gradient")
class GradientFill(Fill):
    """stops : at least two. angle_deg : as in CSS, clockwise from up."""

    kind: Literal["gradient"] = "gradient"
    stops: Annotated[tuple[Stop, ...], Field(min_length=2, max_length=MOST_STOPS)] = setting(
        (Stop(at=0, colour="#1d2c45"), Stop(at=1, colour="#c2451a")),
        "Colours",
        "Drag a stop; choose one to change it.",
        "gradient",
        reload=True,
    )
    angle_deg: float = setting(
        180.0, "Angle", "", "slider", unit="°", soft=(0, 360), ge=-360, le=360, step=1
    )

    def node(self, frame: Frame) -> Node:
        """The gradient over the piece, going on beyond it."""
        return GradientNode(self.stops, self.angle_deg, frame.of_page)


@dataclass(frozen=True)
class GradientNode(Node):
    """stops, angle_deg : as of the fill. frame : of the piece."""

    stops: tuple[Stop, ...]
    angle_deg: float
    frame: Frame
    extent: Box = EVERYWHERE
    key: str = field(init=False)
    cheap = True

    def __post_init__(self):
        key = key_of("gradient", self.stops, self.angle_deg, self.frame)
        object.__setattr__(self, "key", key)

    def pixel_format(self, assets: Assets | None) -> PixelFormat:
        """Opaque."""
        return OPAQUE

    def write(self, reader: NodeReader, program: Program, box: Box) -> Picture:
        """Sums of ramps, one from each stop to the next."""
        along = self._along(program)
        stops = sorted(self.stops, key=lambda stop: stop.at)
        rgb = [hex_to_rgb(stop.colour) for stop in stops]
        channels = [program.constant(float(c)) for c in rgb[0]]
        for (stop, colour), (later, onward) in zip(
            zip(stops, rgb, strict=True), zip(stops[1:], rgb[1:], strict=True), strict=False
        ):
            span = max(later.at - stop.at, 1e-6)
            share = along.clamped(1 / span, -stop.at / span)
            steps = np.asarray(onward, np.float64) - colour
            channels = [c + share * float(s) for c, s in zip(channels, steps, strict=True)]
        # stops on one place cancel out to within a rounding
        return Picture(program, tuple(one.clamped(1.0, 0.0) for one in channels))

    def _along(self, program: Program):
        """How far along the line a pixel's middle lies, 0 at its begin and 1 at its end."""
        frame, turn = self.frame, math.radians(self.angle_deg)
        wide, tall = frame.page_width_px, frame.page_height_px
        dx, dy = math.sin(turn), -math.cos(turn)
        length = max((abs(wide * dx) + abs(tall * dy)) * frame.scale, 1e-6)
        a, b = dx / length, dy / length
        x, y = frame.x * frame.scale, frame.y * frame.scale
        return program.grid(a, b, 0.5 - a * x - b * y)
