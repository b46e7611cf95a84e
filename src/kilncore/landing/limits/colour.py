"""Where the bare art has a colour, or has not: wear and coats do not break it, and it is carried
along by moves.
"""

from typing import Annotated, Literal

from pydantic import Field

from kilncore.graph.plane import Plane
from kilncore.graph.sources import Sources
from kilncore.landing.limits.base import Limit, limit
from kilncore.pixels.colour import HexColour
from kilncore.planes.colour_area import ColourArea

Share = Annotated[float, Field(ge=0, le=1)]


@limit("colour", title="A colour")
class ColourLimit(Limit):
    """tolerance : how far off a colour may be, the mean of three channels, 0..1. softness : over
    how much more it fades.
    """

    kind: Literal["colour"] = "colour"
    colour: HexColour
    tolerance: Share = 0.1
    softness: Share = 0.05

    def plane(self, sources: Sources) -> Plane:
        """The area of the colour in the bare art."""
        return ColourArea(sources.bare, self.colour, self.tolerance, self.softness)
