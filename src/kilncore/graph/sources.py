"""What lies around a step or a landing: the nodes that its planes may be made of."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Protocol

from kilncore.geometry.box import Box
from kilncore.graph.node import Node
from kilncore.model.frame import Frame


class Surroundings(Protocol):
    """A piece at one scale (`engine.plan`). measuring : the same at the scale at which whole items
    are measured: 1 for exact pictures, a draft's own or smaller. full_size : the same at scale 1.
    """

    @property
    def measuring(self) -> "Surroundings":
        """At the scale at which whole items are measured."""

    @property
    def full_size(self) -> "Surroundings":
        """At scale 1."""

    def outline_art(self, item_id: str) -> Node:
        """The bare art of a mark, or of all that a group has."""

    def near(self, stack: Node, box: Box) -> Node:
        """What of a stack reaches into a box."""

    def tone_variance(self, node: Node) -> Node:
        """The variance of the tones that a draft's pixels of a picture stand for."""

    def treated_ground(self) -> Node:
        """The ground alone, treated."""

    def local_key(self, node: Node, box: Box) -> tuple:
        """A key of what of a stack reaches into a box."""


@dataclass(frozen=True, kw_only=True)
class Sources:
    """input : what the step treats, or what an item lands on. beneath : what lies beneath the item.
    bare : the bare art (of a ground or piece, what its treatment begins with), carried along by the
    moves before the step. outline : what has the input's alpha and depends on no colours that do
    not matter for it. frame : of the item.

    whole : the box over which whole-item values are read: the item's treated extent, or the page.
    page_px : the piece's size. extent : output px beyond which nothing of the result counts.
    strength : of the step's landing. surroundings : the piece at this
    scale. twin : the same place in the same picture at another scale.
    """

    input: Node
    beneath: Node
    bare: Node
    outline: Node
    frame: Frame
    whole: Box
    page_px: tuple[int, int]
    surroundings: Surroundings
    twin: Callable[[Any], "Sources"]
    extent: Box
    strength: float = 1.0

    def mark(self, item_id: str) -> Node:
        """The bare art of a mark, or of all that a group has, by its id."""
        return self.surroundings.outline_art(item_id)

    def variance(self, node: Node) -> Node:
        """The variance of the tones that a draft's pixels of a picture stand for, within the
        extent.
        """
        return self.surroundings.tone_variance(self.surroundings.near(node, self.extent))

    def beneath_within(self, margin: int) -> Node:
        """What lies beneath the item within the extent and so many px around."""
        return self.surroundings.near(self.beneath, self.extent.expanded(margin))

    def ground(self) -> Node:
        """The ground alone, treated."""
        return self.surroundings.treated_ground()

    def local(self, node: Node, box: Box) -> tuple:
        """A key of what of a stack reaches into a box."""
        return self.surroundings.local_key(node, box)

    def measured(self) -> "Sources":
        """The same at the scale at which whole items are measured."""
        return self._at(self.surroundings.measuring)

    def full_size(self) -> "Sources":
        """The same at scale 1: what aims are solved from."""
        return self._at(self.surroundings.full_size)

    def _at(self, surroundings: Surroundings) -> "Sources":
        return self if surroundings is self.surroundings else self.twin(surroundings)
