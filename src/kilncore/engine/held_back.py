"""How much a landing lets through, pixel by pixel: its blend ranges, limits, fade and touch-up,
apart from its strength. It is a look, and never fires.
"""

from dataclasses import dataclass, field
from functools import singledispatch
from typing import Any

import numpy as np

from kilncore.compiled.program import Program
from kilncore.document import Piece
from kilncore.engine.merging import own_of
from kilncore.engine.nodes import Landed
from kilncore.engine.plans import plan_of
from kilncore.engine.render import Region, render_node
from kilncore.engine.step_node import StepNode
from kilncore.engine.view import ItemView, StepView
from kilncore.engine.weights import weight_of
from kilncore.errors import KilnError
from kilncore.geometry.box import Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets, NodeReader
from kilncore.pixels.picture import Picture


def held_back(
    piece: Piece,
    part: str,
    step_id: str | None,
    region: Region,
    scale: float,
    assets: Assets | None = None,
    whole: bool = False,
    **drawing: Any,
) -> tuple[np.ndarray, np.ndarray]:
    """What a landing lets through, and where the mark is at all.

    Parameters
    ----------
    piece, region, scale, assets, **drawing : object
        As of `engine.render`.
    part : str
        A mark or group, 'ground' or 'piece'.
    step_id : str or None
        Whose landing it is; None for how a mark or group lands.
    whole : bool
        Times how much there is of what the step paints.

    Returns
    -------
    (weight, area)
        Each (H, W) float32, 0..1.

    Raises
    ------
    KilnError
        For a step that is off, or a part that lands nowhere.

    References
    ----------
    docs/engine.md, Pixels.
    """
    landing = plan_of(piece, min(scale, 1.0)).finished().landings.get(step_id or part)
    if landing is None:
        raise KilnError("Nothing lands here: the step is off, or the mark is left out.", part)
    straight = render_node(WeightNode(landing, whole), piece, region, scale, assets, **drawing)
    return straight[..., 0], straight[..., 3]


@dataclass(frozen=True)
class WeightNode(Node):
    """The weight of what lands at a node, as grey, with the alpha of the area that it treats. whole
    : with how much of it there is, which is what a step paints with."""

    at: StepNode | Landed
    whole: bool = False
    key: str = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("weight", self.at.key, self.whole))

    @property
    def area(self) -> Node:
        """What is treated: a step's input, or the item that lands."""
        return self.at.input if isinstance(self.at, StepNode) else self.at.item

    @property
    def extent(self) -> Box:
        """That of the area."""
        return self.area.extent

    @property
    def sources(self):
        """All that the landing reads."""
        return self.at.sources

    @property
    def wholes(self):
        """All that the landing needs."""
        return self.at.wholes

    def write(self, reader: NodeReader, program: Program, box: Box) -> Picture | None:
        """Grey from 0, all held back, to 1."""
        area = reader.picture(self.area, program)
        if area is None:
            return None
        weight, own = _weight(self.at, reader, program, box)
        if self.whole and own is not None and own.alpha is not None:
            weight = own.alpha * weight
        weight = program.constant(weight) if isinstance(weight, float) else weight.clamped()
        return Picture(program, (weight,) * 3, area.alpha).premultiply()


@singledispatch
def _weight(node: Any, reader: Any, program: Any, box: Any):
    raise TypeError(f"nothing lands at {type(node).__name__}")


@_weight.register
def _(node: StepNode, reader: Any, program: Program, box: Box):
    view = StepView(reader, node, program, box)
    result = node.kind.run(node.step.params, view)
    first = result[0] if isinstance(result, tuple) else result
    if first is None:
        return 1.0, None
    own, variance = own_of(first, view)
    return weight_of(node.landing, view, own, variance), own


@_weight.register
def _(node: Landed, reader: Any, program: Program, box: Box):
    item = reader.picture(node.item, program)
    if item is None:
        return 1.0, None
    view = ItemView(reader, node, program, box, reader.picture(node.canvas, program))
    return weight_of(node.landing, view, item), item
