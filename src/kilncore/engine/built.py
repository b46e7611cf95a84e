"""What building a picture gives: its node, and what was made on the way to it."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

from kilncore.engine.nodes import Landed
from kilncore.engine.step_node import StepNode
from kilncore.geometry.box import NOWHERE, Box
from kilncore.graph.node import Node
from kilncore.graph.sources import Sources


@dataclass(frozen=True)
class Made:
    """A step, or the landing of an item, by its id. sources : what lay around it. looks_at : the
    box in which it looks at what lies around it, in document px.
    """

    name: str
    node: StepNode | Landed
    sources: Sources
    looks_at: Box = NOWHERE


@dataclass(frozen=True)
class Built:
    """node : of a picture. made : what was made for it alone. parts : what it was built of, whose
    own steps and landings count as its own.
    """

    node: Node
    made: tuple[Made, ...] = ()
    parts: tuple["Built", ...] = ()

    @cached_property
    def landings(self) -> dict[str, StepNode | Landed]:
        """Where every step and every item of the picture lands, by its id."""
        return {one.name: one.node for one in self._all()}

    @cached_property
    def sources(self) -> dict[str, Sources]:
        """What lies around every step and every landing of the picture, by its id."""
        return {one.name: one.sources for one in self._all()}

    @cached_property
    def looks_at(self) -> Box:
        """The box in which anything of it looks at what lies around it, in document px."""
        whole = NOWHERE
        for one in self._all():
            whole = whole.union(one.looks_at)
        return whole

    def _all(self) -> Iterator[Made]:
        """However tall a stack is, nothing here goes deep."""
        waiting = [self]
        while waiting:
            one = waiting.pop()
            yield from one.made
            waiting += one.parts
