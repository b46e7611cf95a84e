"""No fill: the piece is transparent where no mark is."""

from typing import Literal

from kilncore.fills.base import Fill, fill
from kilncore.graph.node import Node, Nothing
from kilncore.model.frame import Frame


@fill("none", title="None", summary="nothing")
class NoFill(Fill):
    """Nothing lies at the bottom."""

    kind: Literal["none"] = "none"

    def node(self, frame: Frame) -> Node:
        """Transparent everywhere."""
        return Nothing()
