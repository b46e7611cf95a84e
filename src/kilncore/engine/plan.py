"""From a document to a graph of nodes at one scale.

The order is fixed in docs/engine.md: the ground and its treatment; each mark or group, bottom up,
treated and landed; the treatment of the whole piece.
"""

import math
import threading
from dataclasses import dataclass, replace
from functools import cached_property, partial

from cachetools import LRUCache

from kilncore.artwork.base import Drawing
from kilncore.document import Group, Mark, Piece, Step
from kilncore.engine.nodes import ArtNode, Landed, LocalKeys
from kilncore.engine.recall import Recall
from kilncore.engine.step_node import Carried, StepNode
from kilncore.engine.tone_variance import tone_variance
from kilncore.errors import KilnError
from kilncore.fills.colour import ColourNode
from kilncore.geometry.affine import Affine
from kilncore.geometry.box import EVERYWHERE, NOWHERE, Box, scaled
from kilncore.graph.node import Node, Nothing
from kilncore.graph.sources import Sources
from kilncore.landing import Landing
from kilncore.layout.layout import Layout
from kilncore.model.frame import Frame
from kilncore.perspective.projection import Projection
from kilncore.steps import STEPS
from kilncore.steps.base import ALPHA, PLACE

BARE_STOCK = "#aaa69c"  # neither light nor dark art is lost on it
_DRAWINGS, _LOCK = LRUCache(4096), threading.Lock()
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


class Plan:
    """Builds the graph of one piece at one scale, each part of it once. sources : of every step, by
    its id. landings : where every step and every item lands, by its id. recall : what a draft may
    take of what was measured a moment ago.
    """

    def __init__(self, piece: Piece, scale: float = 1.0, recall: Recall | None = None):
        self.piece, self.scale, self.layout = piece, scale, Layout(piece)
        self.recall = recall
        self.page = scaled(0, 0, *piece.size_px, scale)
        self.page_frame = replace(self.layout.page_frame, scale=scale)
        self.linear = piece.light == "linear"
        self.sources: dict[str, Sources] = {}
        self.landings: dict[str, StepNode | Landed] = {}
        # what was built already: many pictures of one piece share most of their graph
        self._nodes: dict = {}
        self._lock, self._finishing = threading.RLock(), False

    @cached_property
    def measuring(self) -> "Plan":
        """The plan at the scale at which whole items are measured: 1 for exact pictures, a draft's
        own or smaller.
        """
        width, height = self.piece.size_px
        scale = (
            1.0
            if self.scale >= 1
            else min(self.scale, math.sqrt(MEASURED_PIXELS / (width * height)))
        )
        if scale == self.scale:
            return self
        plan = Plan(self.piece, scale)
        plan.finished()
        return plan

    @cached_property
    def full_size(self) -> "Plan":
        """The plan at scale 1: what aims are solved from."""
        if self.scale == 1:
            return self
        plan = Plan(self.piece, 1.0)
        plan.finished()
        return plan

    def _once(self, key, make):
        if key not in self._nodes:
            self._nodes[key] = make()
        return self._nodes[key]

    def finished(self, with_ground: bool = True) -> Node:
        """The whole piece. Without its ground, items' modes act as normal; what lies beneath still
        counts.
        """
        with self._lock:
            return self._once(("finished", with_ground), lambda: self._finish(with_ground))

    def _finish(self, with_ground: bool) -> Node:
        self._finishing = True
        try:
            return self._finished(with_ground)
        finally:
            self._finishing = False

    def _finished(self, with_ground: bool) -> Node:
        ground = self.ground()
        painted, beneath = ground if with_ground else Nothing(), ground
        for item in _fired(self.piece.stack):
            node = self.item(item, beneath)
            landing = (
                item.landing if with_ground else item.landing.model_copy(update={"mode": "normal"})
            )
            painted = self._landed(painted, node, landing, item, beneath)
            beneath = (
                painted if with_ground else self._landed(beneath, node, item.landing, item, beneath)
            )
        return self.treated(painted, self.piece.treatment, self.page_frame, ground)

    def up_to(self, point: Point) -> Node:
        """The piece as it stands at a point: what the strip's pictures show."""
        return self._once(point, lambda: self._up_to(point))

    def _up_to(self, point: Point) -> Node:
        ground = self.ground(point.steps if point.part == "ground" else None)
        if point.part == "ground":
            return ground
        if point.part != "piece":
            return self._part_up_to(self.piece.stack, ground, point)
        canvas = ground
        for item in _fired(self.piece.stack):
            canvas = self._landed(canvas, self.item(item, canvas), item.landing, item, canvas)
        return self.treated(canvas, self.piece.treatment[: point.steps], self.page_frame, ground)

    def _part_up_to(self, items: tuple, canvas: Node, point: Point) -> Node:
        """What lies beneath a mark or group, with it as it stands at the point; one that is left
        out is shown too.
        """
        way = set(self.piece.way_to(point.part))
        for item in items:
            if item.id == point.part:
                return self._item_up_to(item, canvas, point)
            if item.id in way:
                return self._part_up_to(item.members, canvas, point)
            if not item.left_out:
                canvas = self._landed(canvas, self.item(item, canvas), item.landing, item, canvas)
        raise KilnError("There is no such mark on this piece.", point.part)

    def _item_up_to(self, item: Mark | Group, canvas: Node, point: Point) -> Node:
        if point.steps == 0 and point.on_stock:
            return Landed(
                ColourNode(BARE_STOCK), self.bare(item, canvas), Landing(), self.frame(item)
            )
        landing = item.landing if point.steps > len(item.treatment) else Landing()
        return self._landed(canvas, self.item(item, canvas, point.steps), landing, item, canvas)

    def ground(self, steps: int | None = None) -> Node:
        """The ground after its first steps, or all of them."""
        return self._once(
            ("ground", steps),
            lambda: self.treated(
                self.piece.ground.fill.node(self.page_frame),
                self.piece.ground.treatment[:steps],
                self.page_frame,
                Nothing(),
            ),
        )

    def beneath(self, item: Mark | Group) -> Node:
        """What lies beneath a mark or group before it lands."""
        canvas, items, way = self.ground(), self.piece.stack, set(self.piece.way_to(item.id))
        while True:
            for one in items:
                if one.id == item.id:
                    return canvas
                if one.id in way:
                    items = one.members
                    break
                if not one.left_out:
                    node = self.item(one, canvas)
                    canvas = self._landed(canvas, node, one.landing, one, canvas)

    def item(self, item: Mark | Group, beneath: Node, steps: int | None = None) -> Node:
        """A mark or group, treated, not yet landed."""
        return self.treated(
            self.bare(item, beneath), item.treatment[:steps], self.frame(item), beneath, item.seed
        )

    def bare(self, item: Mark | Group, beneath: Node) -> Node:
        """A mark's art, or a group's members stacked on nothing. Beneath a member: what is beneath
        its group with the lower members landed on it."""
        if isinstance(item, Mark):
            return self.art(item)
        canvas = Nothing()
        for member in _fired(item.members):
            node = self.item(member, beneath)
            canvas = self._landed(canvas, node, member.landing, member, beneath)
            beneath = self._landed(beneath, node, member.landing, member, beneath)
        return canvas

    def treated(
        self,
        node: Node,
        treatment: tuple[Step, ...],
        frame: Frame,
        beneath: Node,
        item_seed: int = 0,
    ) -> Node:
        """A node with the steps of a treatment on it."""
        return self._treated(node, treatment, frame, beneath, item_seed)[0]

    def _treated(
        self, node: Node, treatment, frame: Frame, beneath: Node, item_seed: int = 0
    ) -> tuple[Node, Node]:
        """The node treated; and what it was bare, moved as the steps move it."""
        bare = node
        for step in treatment:
            if step.on and step.landing.strength > 0:
                make = partial(self._stepped, step, frame, node, bare, beneath, item_seed)
                key = step.id, node.key, bare.key, beneath.key
                node, bare, sources = self._once(key, make)
                self._note(step.id, node, sources)
        return node, bare

    def _stepped(
        self, step: Step, frame: Frame, node: Node, bare: Node, beneath: Node, item_seed: int
    ) -> tuple[Node, Node, Sources]:
        kind = STEPS.named(step.kind)
        lies = self.page_frame if kind.on_ground(step.params) else frame
        own = self._sources(step, lies, node, bare, beneath)
        sources = replace(own, frame=frame)
        planes = kind.planes(step.params, own)
        planes = self.recall.of(step, planes) if self.recall else planes
        planes |= step.landing.active.planes(sources)
        made = StepNode(step, lies, node, beneath, item_seed, planes, self.linear)
        # what a move carries along does not depend on the colours that it moves
        return made, Carried(self._outline(made), bare) if made.moves else bare, own

    def _note(self, name: str, landing: StepNode | Landed, sources: Sources | None = None) -> None:
        """What lands, and of what, as it is in the finished piece: a step may be built of other
        things too, for a picture of the strip or the extent of a group.
        """
        if self._finishing or name not in self.landings:
            self.landings[name] = landing
            if sources is not None:
                self.sources[name] = sources

    def _sources(self, step: Step, frame: Frame, node: Node, bare: Node, beneath: Node) -> Sources:
        whole = self._whole(node)
        own = Sources(
            node,
            beneath,
            bare,
            frame,
            whole,
            self.outline_art,
            lambda: own if self.measuring is self else self.measuring.sources[step.id],
            lambda: own if self.full_size is self else self.full_size.sources[step.id],
            self._variance,
            self.piece.size_px,
            self._outline(node),
            self.ground,
            self._local,
            step.landing.strength,
        )
        return own

    def _landed(
        self, canvas: Node, node: Node, told: Landing, item: Mark | Group, beneath: Node
    ) -> Node:
        def make():
            landing = told.active
            frame = self.frame(item)
            bare = (
                self._treated(self.bare(item, beneath), item.treatment, frame, beneath, item.seed)[
                    1
                ]
                if landing.limits
                else node
            )
            whole = self._whole(node)
            planes = landing.planes(
                Sources(
                    canvas,
                    beneath,
                    bare,
                    frame,
                    whole,
                    self.outline_art,
                    lambda: None,
                    lambda: None,
                    self._variance,
                )
            )
            return Landed(canvas, node, landing, frame, planes, self.linear), told

        landed = self._once(("landed", canvas.key, node.key, id(told), item.id), make)[0]
        if told is item.landing:
            self._note(item.id, landed)
        return landed

    def _whole(self, node: Node) -> Box:
        """The box over which whole-item values are read: all that is treated, though not farther
        off the page than a quarter of its larger side; what fills everything is read over the page.
        """
        if node.extent == EVERYWHERE:
            return self.page
        around = max(self.page.width, self.page.height) // 4
        found = node.extent.intersection(self.page.expanded(around))
        return NOWHERE if found.empty else found

    def _outline(self, node: Node) -> Node:
        """What has a node's alpha, without the steps before it that change colours alone: what is
        solved from outlines stays solved while colours are set.
        """
        return self._once(("outline", node.key), lambda: self._outlined(node))

    def _outlined(self, node: Node) -> Node:
        if not isinstance(node, StepNode):
            return node
        inner = self._outline(node.input)
        if not {ALPHA, PLACE} & node.changed and not node.kind.spills(node.step.params):
            return inner
        alone = set(node.results) <= {"cover", "move"} or node.kind.planewise
        landing = node.landing
        reads = landing.reads_of("own") or landing.reads_of("input")
        if inner is node.input or not alone or reads:
            return node
        return replace(node, input=inner)

    def _local(self, node: Node, box: Box) -> tuple:
        return self._once(("local", node.key), lambda: LocalKeys(node)).of(box)

    def _variance(self, node: Node) -> Node:
        return self._once(("variance", node.key), lambda: tone_variance(node))

    def outline_art(self, item_id: str) -> Node:
        """The bare art of a mark, or of all that a group has: what holds something in or out."""
        return self._once(("outline of", item_id), lambda: self._arts(self.layout.item(item_id)[0]))

    def _arts(self, item: Mark | Group) -> Node:
        if isinstance(item, Mark):
            return self.art(item)
        found = Nothing()
        for member in item.members:
            found = Landed(found, self._arts(member), Landing(), self.frame(member))
        return found

    def extent(self, item_id: str) -> Box:
        """The output px that an item may fill before its treatment."""
        return self.bare(self.layout.item(item_id)[0], Nothing()).extent

    def art(self, mark: Mark) -> Node:
        """A mark's bare art."""
        return self._once(
            ("art", mark.id),
            lambda: ArtNode(
                _drawing(
                    mark.art,
                    Affine(self.scale, 0, 0, self.scale, 0, 0).of(self.layout.map(mark)),
                    self.frame(mark).laid,
                    self.scale,
                    self.piece.ppi,
                    self.piece.size_px[1],
                )
            ),
        )

    def frame(self, item: Mark | Group) -> Frame:
        """An item's frame at this scale."""
        return self._once(
            ("frame", item.id), lambda: replace(self.layout.frame(item), scale=self.scale)
        )


def _drawing(art, placed: Affine, projection: Projection | None, *more) -> Drawing:
    """Art as it is placed, told from its settings once: those that an edit leaves alone are the
    same object in the next document.
    """
    key = id(art), placed, projection, more
    with _LOCK:
        known = _DRAWINGS.get(key)
    if known is None or known[0] is not art:
        laid = art.laid(placed, projection, *more) if projection else art.drawing(placed, *more)
        known = art, laid
        with _LOCK:
            _DRAWINGS[key] = known
    return known[1]


def _fired(items: tuple) -> list:
    """Those that are not left out."""
    return [item for item in items if not item.left_out]
