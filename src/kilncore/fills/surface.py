"""The surface itself: what lies beneath a mark shows within it, so that its steps can raise, press
or tone what is there.
"""

from typing import ClassVar, Literal

from kilncore.fills.base import ART, Area, Fill, fill
from kilncore.fills.line import Line
from kilncore.graph.node import Node, Nothing
from kilncore.model.texture import TexturePlacement


@fill("surface", title="Surface", summary="the surface", fills=(ART,))
class SurfaceFill(Fill):
    """What lies beneath. line, placement : kept for a gradient or a texture in its place."""

    surface: ClassVar[bool] = True
    of_beneath: ClassVar[bool] = True
    kind: Literal["surface"] = "surface"
    line: Line | None = None
    placement: TexturePlacement = TexturePlacement()

    def node(self, area: Area) -> Node:
        """Nothing of its own."""
        return Nothing()
