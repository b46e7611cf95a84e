"""A rectangle or an ellipse in the frame of what it lies on: it moves and turns with it."""

import math
from typing import Literal

import numpy as np
from pydantic import Field

from kilncore.geometry.box import Box
from kilncore.model.base import Model
from kilncore.model.frame import Frame
from kilncore.model.units import Length, px


class Region(Model):
    """x, y : its middle, from the frame's origin. feather : the width of the soft edge."""

    shape: Literal["rectangle", "ellipse"] = "ellipse"
    x: Length = px(0)
    y: Length = px(0)
    width: Length = px(100)
    height: Length = px(100)
    rotation_deg: float = Field(0.0, ge=-360, le=360)
    feather: Length = px(0)

    def placed(self, frame: Frame) -> tuple:
        """(shape, middle, size, rotation, feather) in output px, as `planes.region` draws it."""
        dx, dy = frame.length(self.x), frame.length(self.y)
        cos, sin = math.cos(frame.rotation), math.sin(frame.rotation)
        middle = (
            frame.x * frame.scale + cos * dx - sin * dy,
            frame.y * frame.scale + sin * dx + cos * dy,
        )
        size = frame.length(self.width), frame.length(self.height)
        turn = frame.rotation + math.radians(self.rotation_deg)
        return self.shape, middle, size, turn, frame.length(self.feather)

    def box(self, frame: Frame) -> Box:
        """The output px around it, as if it were not turned."""
        _, (x, y), (wide, tall), _, _ = self.placed(frame)
        sides = [(x + a * wide / 2, y + b * tall / 2) for a in (-1, 1) for b in (-1, 1)]
        points = np.array(sides if frame.laid is None else frame.laid.points(sides))
        return Box(*(round(float(n)) for n in (*points.min(0), *points.max(0))))
