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
    own steps and landings count as its own. looks : the box in which its art looks at what lies
    beneath it, in document px.
    """

    node: Node
    made: tuple[Made, ...] = ()
    parts: tuple["Built", ...] = ()
    looks: Box = NOWHERE

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
        for one in self._each():
            for box in (one.looks, *(made.looks_at for made in one.made)):
                whole = whole.union(box)
        return whole

    def _all(self) -> Iterator[Made]:
        for one in self._each():
            yield from one.made

    def _each(self) -> Iterator["Built"]:
        """However tall a stack is, nothing here goes deep."""
        waiting = [self]
        while waiting:
            one = waiting.pop()
            yield one
            waiting += one.parts
