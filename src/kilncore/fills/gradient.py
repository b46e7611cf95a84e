"""A gradient: colours along a line, around a point outwards, or around it.

Where no line is set by hand a straight one lies as CSS Images Level 3 lays linear-gradient(): 0
degrees points up, 90 to the right, and it is as long as it takes for the corners to have the
colours of its ends; a round one lies in the middle and reaches the corners; a cone begins at its
angle. A line that is set is told in shares of the box, so that it goes with what it fills.
"""

import math
from dataclasses import dataclass, field
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from kilncore.compiled.program import Program
from kilncore.fills.base import Area, Fill, fill
from kilncore.fills.line import Line
from kilncore.geometry.affine import Affine
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets, NodeReader
from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.model.texture import TexturePlacement
from kilncore.perspective.projection import Projection
from kilncore.pixels.colour import HexColour, hex_to_rgb
from kilncore.pixels.picture import Picture, of_planes
from kilncore.pixels.pixel_format import OPAQUE, PixelFormat
from kilncore.pixels.ramps import CONE, MIRROR, NONE, REPEAT, ROUND, STRAIGHT, painted, ramp_of

MOST_STOPS = 12
DITHER = 0x6B17
WAYS = ((STRAIGHT, "Straight"), (ROUND, "Round"), (CONE, "Cone"))
REPEATS = ((NONE, "Goes on"), (REPEAT, "Again"), (MIRROR, "There and back"))


class Stop(Model):
    """at : its place along the line, 0..1. alpha : how much it covers, 0..1."""

    at: float = Field(ge=0, le=1)
    colour: HexColour
    alpha: float = Field(1.0, ge=0, le=1)


@fill("gradient", title="Gradient", summary="a gradient")
class GradientFill(Fill):
    """stops : at least two. angle_deg : as in CSS, clockwise from up, where there is no line.
    placement : kept for a texture in its place.
    """

    kind: Literal["gradient"] = "gradient"
    way: Literal["straight", "round", "cone"] = setting(
        STRAIGHT, "Way", "", "choice", choices=WAYS, reload=True
    )
    stops: Annotated[tuple[Stop, ...], Field(min_length=2, max_length=MOST_STOPS)] = setting(
        (Stop(at=0, colour="#1d2c45"), Stop(at=1, colour="#c2451a")),
        "Colours",
        "Drag a stop; choose one to change it.",
        "gradient",
        reload=True,
    )
    line: Line | None = setting(None, "Line", "", "line_on_piece", reload=True)
    angle_deg: float = setting(
        180.0, "Angle", "", "slider", unit="°", soft=(0, 360), ge=-360, le=360, step=1, if_="!line"
    )
    placement: TexturePlacement = TexturePlacement()
    repeat: Literal["none", "repeat", "mirror"] = setting(
        NONE, "Beyond its ends", "", "choice", choices=REPEATS, fold=True
    )

    def node(self, area: Area) -> Node:
        """The gradient over its box, going on beyond it."""
        return GradientNode(self, area.box, area.frame.laid)

    def ends(self, wide: float, tall: float) -> tuple[tuple[float, float], tuple[float, float]]:
        """Its line on a box of that size, from the box's middle."""
        if self.line is not None:
            line = self.line
            return (line.x0 * wide, line.y0 * tall), (line.x1 * wide, line.y1 * tall)
        turn = math.radians(self.angle_deg)
        dx, dy = math.sin(turn), -math.cos(turn)
        if self.way == ROUND:
            return (0.0, 0.0), (math.hypot(wide, tall) / 2, 0.0)
        half = (abs(wide * dx) + abs(tall * dy)) / 2
        if self.way == CONE:
            return (0.0, 0.0), (dx * half, dy * half)
        return (-dx * half, -dy * half), (dx * half, dy * half)


@dataclass(frozen=True)
class GradientNode(Node):
    """gradient : as of the fill. box : as of an `Area`. laid : in perspective, from where it would
    lie flat to where it lies.
    """

    gradient: GradientFill
    box: Affine
    laid: Projection | None = None
    extent: Box = EVERYWHERE
    key: str = field(init=False)

    def __post_init__(self):
        key = key_of("gradient", self.gradient, self.box, self.laid)
        object.__setattr__(self, "key", key)

    @property
    def _opaque(self) -> bool:
        return all(stop.alpha == 1 for stop in self.gradient.stops)

    def pixel_format(self, assets: Assets | None) -> PixelFormat:
        """Opaque, if its colours are."""
        return OPAQUE if self._opaque else PixelFormat()

    def write(self, reader: NodeReader, program: Program, box: Box) -> Picture:
        """Its colours, dithered: what they are rounded to later shows no bands."""
        gradient = self.gradient
        places = _corners(self.laid, box) if self.laid else None
        shift = Affine(1, 0, 0, 1, 0, 0) if self.laid else Affine(1, 0, 0, 1, box.left, box.top)
        planes = painted(
            ramp_of([(stop.at, (*hex_to_rgb(stop.colour), stop.alpha)) for stop in gradient.stops]),
            gradient.way,
            self._plane.of(shift).matrix,
            (box.width, box.height),
            gradient.repeat,
            places,
            dither=(box.left - round(self.box.e), box.top - round(self.box.f), DITHER),
        )
        return of_planes(program, planes[:3] if self._opaque else planes, box)

    @property
    def _plane(self) -> Affine:
        """From flat output px to the plane of `ramps.painted`."""
        wide, tall = (
            math.hypot(x, y) for x, y in ((self.box.a, self.box.b), (self.box.c, self.box.d))
        )
        upright = self.box.of(Affine(1 / max(wide, 1e-9), 0, 0, 1 / max(tall, 1e-9), 0, 0))
        (x, y), (x1, y1) = (upright.point(*end) for end in self.gradient.ends(wide, tall))
        dx, dy = x1 - x, y1 - y
        if math.hypot(dx, dy) < 1e-6:
            dx, dy = 1e-6, 0.0
        turn = -1 if self.box.a * self.box.d - self.box.b * self.box.c < 0 else 1
        return Affine(dx, dy, -turn * dy, turn * dx, x, y).inverse


def _corners(laid: Projection, box: Box) -> np.ndarray:
    """(H + 1, W + 1, 2) where the corners of the pixels of a box lie on the flat page."""
    columns = np.arange(box.left, box.right + 1, dtype=np.float64)
    rows = np.arange(box.top, box.bottom + 1, dtype=np.float64)
    places = np.stack(np.meshgrid(columns, rows), 2)
    return laid.flat_of(places).reshape(places.shape)
