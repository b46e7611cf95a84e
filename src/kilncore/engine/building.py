"""The graph of one picture of a piece, built from the ground up: each mark or group is treated and
landed, and then the whole.

Building changes nothing: it gives the picture's node with all that was made on the way. Nodes that
are the same in many pictures are made once (`Scene.once`).
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from kilncore.document import Group, Mark, Step
from kilncore.engine.built import Built, Made
from kilncore.engine.combining import CUT, MET, Combined
from kilncore.engine.nodes import Landed
from kilncore.engine.scene import of_beneath
from kilncore.engine.step_node import Carried, StepNode, extent_of
from kilncore.engine.still import joined, looking
from kilncore.fills.base import Area
from kilncore.geometry.box import Box
from kilncore.graph.node import Node, Nothing
from kilncore.graph.sources import Sources
from kilncore.landing import Landing
from kilncore.model.frame import Frame
from kilncore.steps import STEPS

if TYPE_CHECKING:
    from kilncore.engine.plan import Plan

OWN, PLAIN, AS_NORMAL = "own", "plain", "as normal"


@dataclass(frozen=True)
class Treated:
    """A treatment's end. bare : what it was bare, moved as the steps move it."""

    node: Node
    bare: Node
    made: tuple[Made, ...]


@dataclass(frozen=True)
class Building:
    """plan : of the piece at this scale. again : the same picture of another plan. whole : whether
    it is of the whole piece, whose items are taken from one plan to the next.
    """

    plan: "Plan"
    again: Callable[["Plan"], Built]
    whole: bool = False

    def finished(self, with_ground: bool) -> Built:
        """The whole piece. Without its ground, items' modes act as normal; what lies beneath still
        counts.
        """
        ground, items = self.ground(), fired(self.plan.piece.stack)
        painted = ground if with_ground else Built(Nothing(), parts=(ground,))
        beneath = ground.node
        self.plan.still.begins(beneath, items)
        for item in items:
            shown = self.item(item, beneath)
            way = OWN if with_ground else AS_NORMAL
            painted = self._onto(painted, shown, item, beneath, way)
            beneath = painted.node if with_ground else self._beneath_next(beneath, shown.node, item)
        return self._whole_treated(painted, self.plan.piece.treatment, ground.node)

    def fired_alone(self, item: Mark | Group) -> Built:
        """One item of the finished piece, without its ground and all others."""
        beneath, ground = self.beneath(item.id), self.ground()
        nothing = Built(Nothing(), parts=(beneath, ground))
        shown = self.item(item, beneath.node)
        painted = self._onto(nothing, shown, item, beneath.node, AS_NORMAL)
        return self._whole_treated(painted, self.plan.piece.treatment, ground.node)

    def piece_after(self, steps: int) -> Built:
        """All that stands on the piece, after the first steps of the treatment of the whole."""
        ground = canvas = self.ground()
        for item in fired(self.plan.piece.stack):
            canvas = self._onto(canvas, self.item(item, canvas.node), item, canvas.node)
        return self._whole_treated(canvas, self.plan.piece.treatment[:steps], ground.node)

    def _whole_treated(self, canvas: Built, treatment: tuple[Step, ...], ground: Node) -> Built:
        whole = self._treated(canvas.node, treatment, self.plan.page_frame, ground)
        return Built(whole.node, whole.made, (canvas,))

    def ground(self, steps: int | None = None) -> Built:
        """The ground after its first steps, or all of them."""
        bottom, frame = self.plan.piece.ground, self.plan.page_frame
        filled = bottom.fill.node(Area.of_page(frame))
        treated = self._treated(filled, bottom.treatment[:steps], frame, Nothing())
        return Built(treated.node, treated.made)

    def beneath(self, item_id: str) -> Built:
        """What lies beneath a mark or group before it lands; for what is left out, too."""
        canvas = self.ground()
        items: Any = self.plan.piece.stack
        way = set(self.plan.piece.way_to(item_id))
        while True:
            for one in items:
                if one.id == item_id:
                    return canvas
                if one.id in way:
                    items = one.members
                    break
                if not one.left_out:
                    canvas = self._onto(canvas, self.item(one, canvas.node), one, canvas.node)

    def in_place(self, item: Mark | Group) -> Built:
        """A mark or group, treated, over what lies beneath it, not yet landed."""
        beneath = self.beneath(item.id)
        shown = self.item(item, beneath.node)
        return Built(shown.node, parts=(beneath, shown))

    def bare_in_place(self, item: Mark | Group) -> Built:
        """The same, bare."""
        beneath = self.beneath(item.id)
        bare = self.bare(item, beneath.node)
        return Built(bare.node, parts=(beneath, bare))

    def item(self, item: Mark | Group, beneath: Node, steps: int | None = None) -> Built:
        """A mark or group after its first steps, or all of them, not yet landed."""
        if not self.whole:
            return self._built(item, beneath, steps)
        taken = self.plan.still.taken(item)
        built = taken or self._built(item, beneath, steps)
        self.plan.still.notes(item, built, bool(taken))
        return built

    def _built(self, item: Mark | Group, beneath: Node, steps: int | None) -> Built:
        bare = self.bare(item, beneath)
        frame, treatment = self.plan.frame(item), item.treatment[:steps]
        treated = self._treated(bare.node, treatment, frame, beneath, item.seed)
        return Built(treated.node, treated.made, (bare,))

    def bare(self, item: Mark | Group, beneath: Node) -> Built:
        """A mark's art, or a group's members stacked on nothing. Beneath a member: what is beneath
        its group with the lower members landed on it.
        """
        if isinstance(item, Mark):
            return self._bare_mark(item, beneath)
        whole = self.plan.combined_art(item)
        if whole is not None:
            return Built(whole)
        canvas, members = Built(Nothing()), fired(item.members)
        if self.whole:
            self.plan.still.enters(item, members)
        for member in members:
            shown = self.item(member, beneath)
            if item.combine in (CUT, MET) and member is not members[0]:
                joint = Combined(canvas.node, shown.node, item.combine)
                canvas = Built(joint, parts=(canvas, shown))
                continue
            canvas = self._onto(canvas, shown, member, beneath)
            beneath = self._beneath_next(beneath, shown.node, member)
        return canvas

    def _bare_mark(self, mark: Mark, beneath: Node) -> Built:
        shape = self.plan.art(mark)
        if not of_beneath(mark):
            return Built(shape)
        with looking() as boxes:
            near = self.plan.near(beneath, shape.extent)
        return Built(self.plan.art_on(mark, near), looks=joined(boxes))

    def landed_after(self, item: Mark | Group, steps: int) -> Built:
        """What lies beneath an item, with it after its first steps. After one more than it has, it
        has landed its own way; before, it lands as normal.
        """
        canvas = self.beneath(item.id)
        way = OWN if steps > len(item.treatment) else PLAIN
        return self._onto(canvas, self.item(item, canvas.node, steps), item, canvas.node, way)

    def _onto(
        self, canvas: Built, shown: Built, item: Group | Mark, beneath: Node, way: str = OWN
    ) -> Built:
        """A canvas with an item landed on it."""
        made = self._landed(canvas.node, shown.node, item, beneath, way)
        return Built(made.node, (made,), (canvas, shown))

    def _beneath_next(self, beneath: Node, shown: Node, item: Mark | Group) -> Node:
        return self._landed(beneath, shown, item, beneath, OWN).node

    def _landed(
        self, canvas: Node, node: Node, item: Mark | Group, beneath: Node, way: str
    ) -> Made:
        key = "landed", canvas.key, node.key, item.id, beneath.key, way
        return self.plan.once(key, lambda: self._landing(canvas, node, item, beneath, way))

    def _landing(
        self, canvas: Node, node: Node, item: Group | Mark, beneath: Node, way: str
    ) -> Made:
        landing, frame, plan = _told(item, way).active, self.plan.frame(item), self.plan
        sources = Sources(
            input=canvas,
            beneath=beneath,
            bare=self._moved_bare(item, beneath) if landing.limits else node,
            outline=node,
            frame=frame,
            whole=plan.whole(node),
            page_px=plan.piece.size_px,
            extent=node.extent,
            surroundings=plan,
            twin=lambda other: self.again(other).sources[item.id],
        )
        with looking() as boxes:
            planes = plan.still.with_variances(item.id, frame, landing.planes(sources))
        landed = Landed(canvas, node, landing, frame, planes, plan.linear)
        return Made(item.id, landed, sources, joined(boxes))

    def _moved_bare(self, item: Mark | Group, beneath: Node) -> Node:
        """An item's bare art, carried along by the moves of its treatment."""
        bare, frame = self.bare(item, beneath).node, self.plan.frame(item)
        return self._treated(bare, item.treatment, frame, beneath, item.seed).bare

    def _treated(
        self,
        node: Node,
        treatment: Iterable[Step],
        frame: Frame,
        beneath: Node,
        item_seed: int = 0,
    ) -> Treated:
        bare, made = node, []
        for step in treatment:
            if step.on and step.landing.strength > 0:
                key = "step", step.id, node.key, bare.key, beneath.key
                place = _Place(step, frame, node, bare, beneath, item_seed)
                one, bare = self.plan.once(key, lambda place=place: self._stepped(place))
                node = one.node
                made.append(one)
        return Treated(node, bare, tuple(made))

    def _stepped(self, at: "_Place") -> tuple[Made, Node]:
        """(the step, the bare art after it)."""
        step, plan = at.step, self.plan
        kind = STEPS.named(step.kind)
        lies = plan.page_frame if kind.on_ground(step.params) else at.frame
        sources = self._around(at, lies, extent_of(step, at.node, lies))
        with looking() as boxes:
            planes = kind.planes(step.params, sources)
            planes = plan.recall.of(step, planes) if plan.recall else planes
            planes |= step.landing.active.planes(replace(sources, frame=at.frame))
            planes = plan.still.with_variances(step.id, lies, planes)
            beneath = sources.beneath_within(kind.reach(step.params, lies))
        node = StepNode(step, lies, at.node, beneath, at.item_seed, planes, plan.linear)
        # what a move carries along does not depend on the colours that it moves
        moved: Any = plan.outline(node)
        bare = Carried(moved, at.bare) if node.moves else at.bare
        return Made(step.id, node, sources, joined(boxes)), bare

    def _around(self, at: "_Place", frame: Frame, extent: Box) -> Sources:
        plan, name = self.plan, at.step.id
        return Sources(
            input=at.node,
            beneath=at.beneath,
            bare=at.bare,
            outline=plan.outline(at.node),
            frame=frame,
            whole=plan.whole(at.node),
            page_px=plan.piece.size_px,
            extent=extent,
            surroundings=plan,
            twin=lambda other: self.again(other).sources[name],
            strength=at.step.landing.strength,
        )


@dataclass(frozen=True)
class _Place:
    """A step, and where in a treatment it comes."""

    step: Step
    frame: Frame
    node: Node
    bare: Node
    beneath: Node
    item_seed: int


def _told(item: Mark | Group, way: str) -> Landing:
    """How an item lands: its own way, its own way as normal, or plainly."""
    if way == PLAIN:
        return Landing()
    return item.landing if way == OWN else item.landing.model_copy(update={"mode": "normal"})


def fired(items: tuple) -> list:
    """Those that are not left out."""
    return [item for item in items if not item.left_out]
