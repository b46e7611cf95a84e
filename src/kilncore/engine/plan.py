"""From a document to the graphs of its pictures at one scale.

The order is fixed in docs/engine.md: the ground and its treatment; each mark or group, bottom up,
treated and landed; the treatment of the whole piece.
"""

import math
import threading
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING

from kilncore.artwork.base import Drawing
from kilncore.document import Group, Mark, Piece
from kilncore.engine.building import Building
from kilncore.engine.built import Built
from kilncore.engine.near import near
from kilncore.engine.nodes import Landed, LocalKeys
from kilncore.engine.outline import outline
from kilncore.engine.scene import Scene
from kilncore.engine.still import Still, looks_at
from kilncore.engine.tone_variance import tone_variance
from kilncore.fills.colour import ColourNode
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.node import Node, Nothing
from kilncore.landing import Landing
from kilncore.model.frame import Frame

if TYPE_CHECKING:
    from kilncore.engine.recall import Recall

BARE_STOCK = "#aaa69c"  # neither light nor dark art is lost on it
MEASURED_PIXELS = 2_000_000  # of a draft's whole-item values


@dataclass(frozen=True)
class Point:
    """A point in the making of a piece: `part` ('ground', an item's id, 'piece') after its first
    `steps` steps.

    One more than an item has steps: it has landed its own way; before, it lands as normal. An item
    after no steps is shown bare `on_stock`, or else on what is beneath it.
    """

    part: str
    steps: int
    on_stock: bool = True


class Plan(Scene):
    """The pictures of one piece at one scale, each built once. recall : what a draft may take of
    what was measured a moment ago. before : the plan of the piece at rest, while a hand moves it.
    """

    def __init__(
        self,
        piece: Piece,
        scale: float = 1.0,
        recall: "Recall | None" = None,
        before: "Plan | None" = None,
    ):
        super().__init__(piece, scale)
        self.recall, self.before = recall, before
        self.still = Still(self, before)
        self._lock = threading.RLock()

    def framed(self, item: Mark | Group) -> Frame:
        """An item's frame; while a hand moves it in perspective, one that is read coarsely."""
        frame = super().framed(item)
        return self.recall.framed(item.id, frame) if self.recall else frame

    def drawn(self, mark: Mark, drawing: Drawing) -> Drawing:
        """Art as it lies; while a hand moves it, as near as is quick to draw."""
        return self.recall.drawn(mark.id, drawing, self.page) if self.recall else drawing

    @cached_property
    def measuring(self) -> "Plan":
        """The plan at the scale at which whole items are measured: 1 for exact pictures, a draft's
        own or smaller.
        """
        width, height = self.piece.size_px
        most = min(self.scale, math.sqrt(MEASURED_PIXELS / (width * height)))
        before = self.before.measuring if self.before else None
        return self._at(1.0 if self.scale >= 1 else most, before)

    @cached_property
    def full_size(self) -> "Plan":
        """The plan at scale 1: what aims are solved from."""
        return self._at(1.0, self.before.full_size if self.before else None)

    def _at(self, scale: float, before: "Plan | None") -> "Plan":
        return self if scale == self.scale else Plan(self.piece, scale, self.recall, before)

    def finished(self, with_ground: bool = True) -> Built:
        """The whole piece. Without its ground, items' modes act as normal; what lies beneath still
        counts.
        """
        return self._picture(
            ("finished", with_ground),
            lambda building: replace(building, whole=True).finished(with_ground),
            lambda plan: plan.finished(with_ground),
        )

    def up_to(self, point: Point) -> Built:
        """The piece as it stands at a point: what the strip's pictures show. An item that is left
        out is shown too.
        """
        if point.part == "ground":
            return self.ground(point.steps)
        return self._picture(
            point, lambda building: self._up_to(building, point), lambda plan: plan.up_to(point)
        )

    def _up_to(self, building: Building, point: Point) -> Built:
        if point.part == "piece":
            return building.piece_after(point.steps)
        item = self.piece.item(point.part)
        if point.steps or not point.on_stock:
            return building.landed_after(item, point.steps)
        bare, stock = building.bare_in_place(item), ColourNode(BARE_STOCK)
        return Built(Landed(stock, bare.node, Landing(), self.frame(item)), parts=(bare,))

    def ground(self, steps: int | None = None) -> Built:
        """The ground after its first steps, or all of them."""
        return self._picture(
            ("ground", steps),
            lambda building: building.ground(steps),
            lambda plan: plan.ground(steps),
        )

    def beneath(self, item_id: str) -> Built:
        """What lies beneath a mark or group before it lands."""
        return self._picture(
            ("beneath", item_id),
            lambda building: building.beneath(item_id),
            lambda plan: plan.beneath(item_id),
        )

    def item(self, item_id: str) -> Built:
        """A mark or group, treated, not yet landed."""
        item = self.piece.item(item_id)
        return self._picture(
            ("item", item_id),
            lambda building: building.in_place(item),
            lambda plan: plan.item(item_id),
        )

    def fired_alone(self, item_id: str) -> Built:
        """A mark or group as it lies in the finished piece, with no other and no ground."""
        item = self.piece.item(item_id)
        return self._picture(
            ("fired alone", item_id),
            lambda building: building.fired_alone(item),
            lambda plan: plan.fired_alone(item_id),
        )

    def bare(self, item_id: str) -> Built:
        """A mark's art, or a group's members stacked on nothing."""
        item = self.piece.item(item_id)
        return self._picture(
            ("bare", item_id),
            lambda building: building.bare_in_place(item),
            lambda plan: plan.bare(item_id),
        )

    def alone(self, item_id: str) -> Built:
        """The same, where nothing lies beneath it."""
        item = self.piece.item(item_id)
        return self._picture(
            ("alone", item_id),
            lambda building: building.bare(item, Nothing()),
            lambda plan: plan.alone(item_id),
        )

    def extent(self, item_id: str) -> Box:
        """The output px that an item may fill before its treatment."""
        return self.alone(item_id).node.extent

    def _picture(
        self, key: Point | tuple, build: Callable[[Building], Built], again: Callable
    ) -> Built:
        with self._lock:
            return self.once(key, lambda: build(Building(self, again)))

    def treated_ground(self) -> Node:
        """The ground alone, treated."""
        return self.ground().node

    def outline(self, node: Node) -> Node:
        """What has a node's alpha, without the steps that change colours alone."""
        return self.once(("outline", node.key), lambda: outline(node, self.outline))

    def outline_art(self, item_id: str) -> Node:
        """The bare art of a mark, or of all that a group has, wherever it lies."""
        looks_at(EVERYWHERE, self.scale)
        return super().outline_art(item_id)

    def local_key(self, node: Node, box: Box) -> tuple:
        """A key of what of a stack reaches into a box."""
        looks_at(box, self.scale)
        return self.once(("local", node.key), lambda: LocalKeys(node)).of(box)

    def near(self, stack: Node, box: Box) -> Node:
        """What of a stack reaches into a box."""
        looks_at(box, self.scale)
        return self.once(("near", stack.key, box), lambda: near(stack, box))

    def tone_variance(self, node: Node) -> Node:
        """The variance of the tones that a draft's pixels of a picture stand for."""
        return self.once(("variance", node.key), lambda: tone_variance(node))
