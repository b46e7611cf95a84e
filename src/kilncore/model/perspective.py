"""How an item is set in perspective: laid into a plane by four corners, or wrapped round a
cylinder.
"""

import math
from collections.abc import Sequence
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, model_validator

from kilncore.geometry.affine import Affine
from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.model.units import Length
from kilncore.perspective.cylinder import Cylinder
from kilncore.perspective.homography import Homography, between, convex
from kilncore.perspective.projection import Projection

Side = Annotated[float, Field(ge=-1e6, le=1e6)]
Corner = tuple[Side, Side]
LEAST_RADIUS, LEAST_SIDE = 2.0, 1e-3  # px
MOST_W = 25.0  # how much nearer one corner may be than another


class Corners(Model):
    """Laid into a plane. width, height : of a box around the item's middle, in px of its own size.
    corners : where its upper left, upper right, lower right and lower left corner lie, in the same
    px.
    """

    kind: Literal["corners"] = "corners"
    width: float = Field(gt=0, le=1e6)
    height: float = Field(gt=0, le=1e6)
    corners: tuple[Corner, Corner, Corner, Corner]

    @model_validator(mode="after")
    def _sound(self):
        if not convex(self.corners):
            raise ValueError("corners cross")
        if steepness(self.plane, self.flat) > MOST_W:
            raise ValueError("corners are too steep")
        return self

    @property
    def flat(self) -> tuple[Corner, ...]:
        """The corners as they would lie flat."""
        x, y = self.width / 2, self.height / 2
        return (-x, -y), (x, -y), (x, y), (-x, y)

    @property
    def plane(self) -> Homography:
        """From flat to laid."""
        return between(self.flat, self.corners)

    def parts(self, ppi: float, height: float, scale: float) -> tuple:
        """From px of the item's own size to the same, laid (see `Projection.chain`)."""
        return (self.plane,)


class Round(Model):
    """Wrapped round a cylinder that is seen from far away. radius : of the cylinder. axis : how far
    right of the item's middle it stands. round_deg : how far round the item's middle lies. tilt_deg
    : from how far above it is seen. axis_deg : how far it leans, clockwise.
    """

    kind: Literal["round"] = "round"
    radius: Length = setting(
        ..., "Radius", "Of the cylinder.", "length", soft=(20, 2000), reload=True
    )
    round_deg: float = setting(
        0.0,
        "How far round",
        "How far round the cylinder the middle lies.",
        "slider",
        unit="°",
        soft=(-80, 80),
        step=1,
        reload=True,
        ge=-89,
        le=89,
    )
    tilt_deg: float = setting(
        0.0,
        "Seen from above",
        "How far from above the cylinder is seen; from below, where it is less than 0.",
        "slider",
        unit="°",
        soft=(-60, 60),
        step=1,
        ge=-80,
        le=80,
    )
    axis_deg: float = setting(
        0.0,
        "Leans",
        "How far the cylinder leans, clockwise.",
        "slider",
        unit="°",
        soft=(-90, 90),
        step=1,
        fold=True,
        ge=-360,
        le=360,
    )
    axis: Length = setting(
        Length(value=0, unit="%"),
        "Axis",
        "How far right of the middle the cylinder stands.",
        "length",
        soft=(-200, 200),
        fold=True,
        reload=True,
    )

    def parts(self, ppi: float, height: float, scale: float) -> tuple:
        """As of Corners. height : of the item in its own size, px, that % is of. scale : px of the
        piece to one of its own size.
        """
        radius, axis = (
            one.in_px(ppi, height * scale) / max(scale, 1e-9) for one in (self.radius, self.axis)
        )
        turn, tilt = math.radians(self.round_deg), math.radians(self.tilt_deg)
        lean = math.radians(self.axis_deg)
        upright, leaning = (Affine.similarity(0, 0, 1, one) for one in (-lean, lean))
        return upright, Cylinder(axis, max(radius, LEAST_RADIUS), turn, tilt), leaning


def corners_of(plane: Homography, width: float, height: float) -> Corners:
    """A plane as the corners of a box around the middle; ValueError if it is too steep for them."""
    x, y = max(width, LEAST_SIDE) / 2, max(height, LEAST_SIDE) / 2
    flat = np.array([(-x, -y), (x, -y), (x, y), (-x, y)])
    if steepness(plane, [tuple(one) for one in flat]) > MOST_W:
        raise ValueError("corners are too steep")
    corners: Any = tuple((float(u), float(v)) for u, v in plane.points(flat))
    return Corners(width=2 * x, height=2 * y, corners=corners)


Perspective = Annotated[Corners | Round, Field(discriminator="kind")]


def steepness(plane: Homography, corners: Sequence[Corner]) -> float:
    """How many times farther from the eye one corner lies than another; infinite where one would
    lie behind it.
    """
    w = [plane.matrix[6] * x + plane.matrix[7] * y + plane.matrix[8] for x, y in corners]
    return max(w) / min(w) if min(w) > 0 else math.inf


def laid(place: Affine, own: Perspective | None, ppi: float, height: float, scale: float) -> tuple:
    """The parts of a placed item's map, from its own size to what it lies in (see `parts`)."""
    return (*(own.parts(ppi, height, scale) if own else ()), place)


def projection_of(levels: list[tuple[Affine, tuple]]) -> Projection | None:
    """From where an item would lie flat to where it lies; None if nothing is in perspective.

    levels : (place, parts of it as `laid` gives them) of the outermost group first, the item last.
    """
    if all(len(parts) == 1 for _, parts in levels):
        return None
    flat = Affine(1, 0, 0, 1, 0, 0)
    for place, _ in levels:
        flat = flat.of(place)
    return Projection.chain(flat.inverse, *(one for _, parts in reversed(levels) for one in parts))
