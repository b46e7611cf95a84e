"""The line of a gradient, set by hand."""

import math
from typing import Annotated, Self

from pydantic import Field, model_validator

from kilncore.model.base import Model

LEAST = 1e-4  # of the box: a shorter line has no way
FARTHEST = 20.0  # of the box
Share = Annotated[float, Field(ge=-FARTHEST, le=FARTHEST)]


class Line(Model):
    """From where to where, in shares of the box from its middle: of a round one the middle and a
    place of its rim, of a cone the middle and the way in which it begins.
    """

    x0: Share = -0.5
    y0: Share = 0.0
    x1: Share = 0.5
    y1: Share = 0.0

    @model_validator(mode="after")
    def _long(self) -> Self:
        if math.hypot(self.x1 - self.x0, self.y1 - self.y0) < LEAST:
            raise ValueError("the two ends of a gradient must lie apart")
        return self
