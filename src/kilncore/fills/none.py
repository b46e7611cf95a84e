"""No fill: the piece is transparent where no mark is."""

from typing import Literal

from kilncore.fills.base import GROUND, Area, Fill, fill
from kilncore.graph.node import Node, Nothing


@fill("none", title="None", summary="nothing", fills=(GROUND,))
class NoFill(Fill):
    """Nothing lies at the bottom."""

    kind: Literal["none"] = "none"

    def node(self, area: Area) -> Node:
        """Transparent everywhere."""
        return Nothing()
