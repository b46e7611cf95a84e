"""From a document to a graph of nodes at one scale.

The order is fixed in docs/engine.md: the ground and its treatment; each mark or group, bottom up, treated and landed; the
treatment of the whole piece.
"""

import math
from dataclasses import dataclass
from functools import cached_property, partial, singledispatchmethod

from kilncore.artwork.lettering import Lettering
from kilncore.artwork.vector import Vector
from kilncore.box import Box, scaled
from kilncore.document import Group, Mark, Piece, Step
from kilncore.engine import nodes
from kilncore.engine.place import Place
from kilncore.engine.step_node import StepNode
from kilncore.engine.survey import Survey
from kilncore.errors import KilnError
from kilncore.frame import Frame
from kilncore.landing import Landing
from kilncore.steps import kind_named

BARE_STOCK = "#aaa69c"  # neither light nor dark art is lost on it


@dataclass(frozen=True)
class Point:
    """A point in the making of a piece: `part` ('ground', an item's id, 'piece') after its first `steps` steps.

    One more than an item has steps: it has landed its own way; before, it lands as normal. An item after no steps is
    shown bare `on_stock`, or else on what is beneath it.
    """

    part: str
    steps: int
    on_stock: bool = True


@dataclass(frozen=True)
class MarkBox:
    """Where a mark lies: its middle, its size before turning, in document px, and its turn in degrees."""

    x: float
    y: float
    width: float
    height: float
    rotation_deg: float

    def corners(self) -> list[tuple[float, float]]:
        return Place(self.x, self.y, 1.0, math.radians(self.rotation_deg)).corners(self.width, self.height)


SURVEY_PIXELS = 2_000_000  # of a draft's measurements over a whole item


class Plan:
    """Builds the graph of one piece at one scale, each part of it once. stands : where every step that measures the whole item
    stands."""

    def __init__(self, piece: Piece, scale: float = 1.0):
        self.piece, self.scale = piece, scale
        self.page = scaled(0, 0, *piece.size_px, scale)
        middle = (round(piece.size_px[0] / 2), round(piece.size_px[1] / 2))
        tall = piece.size_px[1]
        self.page_frame = Frame(*middle, 0.0, tall, piece.ppi, scale, tall)
        self.linear = piece.light == "linear"
        self.stands: dict[str, Survey] = {}
        self._nodes: dict = {}  # what was built already: many pictures of one piece share most of their graph

    @cached_property
    def survey(self) -> "Plan":
        """The plan at the scale at which whole items are measured: 1 for exact pictures, a draft's own or smaller."""
        width, height = self.piece.size_px
        scale = 1.0 if self.scale >= 1 else min(self.scale, math.sqrt(SURVEY_PIXELS / (width * height)))
        if scale == self.scale:
            return self
        plan = Plan(self.piece, scale)
        plan.finished()
        return plan

    def _once(self, key, make):
        if key not in self._nodes:
            self._nodes[key] = make()
        return self._nodes[key]

    def finished(self, with_ground: bool = True):
        """The whole piece. Without its ground, items' modes act as normal; what lies beneath still counts."""
        return self._once(("finished", with_ground), lambda: self._finished(with_ground))

    def _finished(self, with_ground: bool):
        ground = self.ground()
        painted, beneath = ground if with_ground else nodes.Nothing(), ground
        for item in self.piece.stack:
            node = self.item(item, beneath)
            landing = item.landing if with_ground else item.landing.model_copy(update={"mode": "normal"})
            painted = self._landed(painted, node, landing, self.frame(item))
            beneath = painted if with_ground else self._landed(beneath, node, item.landing, self.frame(item))
        return self.treated(painted, self.piece.treatment, self.page_frame, ground, self.page)

    def up_to(self, point: Point):
        """The piece as it stands at a point: what the strip's pictures show."""
        return self._once(point, lambda: self._up_to(point))

    def _up_to(self, point: Point):
        ground = self.ground(point.steps if point.part == "ground" else None)
        if point.part == "ground":
            return ground
        canvas = ground
        for item in self.piece.stack:
            members = getattr(item, "members", ())
            if item.id == point.part:
                return self._item_up_to(item, canvas, point)
            if any(member.id == point.part for member in members):
                return self._member_up_to(item, canvas, point)
            canvas = self._landed(canvas, self.item(item, canvas), item.landing, self.frame(item))
        steps = self.piece.treatment[: point.steps]
        return self.treated(canvas, steps, self.page_frame, ground, self.page)

    def _item_up_to(self, item: Mark | Group, canvas, point: Point, group: Group | None = None):
        if point.steps == 0 and point.on_stock:
            return nodes.Landed(nodes.Colour(BARE_STOCK), self.bare(item, canvas, group), Landing(), self.frame(item, group))
        landing = item.landing if point.steps > len(item.treatment) else Landing()
        return self._landed(canvas, self.item(item, canvas, point.steps, group), landing, self.frame(item, group))

    def _member_up_to(self, group: Group, canvas, point: Point):
        for member in group.members:
            if member.id == point.part:
                return self._item_up_to(member, canvas, point, group)
            canvas = self._landed(canvas, self.item(member, canvas, None, group), member.landing, self.frame(member, group))
        raise KilnError("There is no such mark on this piece.", point.part)

    def ground(self, steps: int | None = None):
        return self._once(("ground", steps), lambda: self._ground(steps))

    def _ground(self, steps: int | None):
        fill = self.piece.ground.fill
        if fill.kind == "none":
            node = nodes.Nothing()
        elif fill.kind == "colour":
            node = nodes.Colour(fill.colour)
        else:
            node = nodes.TextureGround(fill, self.page_frame)
        return self.treated(node, self.piece.ground.treatment[:steps], self.page_frame, nodes.Nothing(), self.page)

    def item(self, item: Mark | Group, beneath, steps: int | None = None, group: Group | None = None):
        """A mark or group, treated, not yet landed."""
        bare = self.bare(item, beneath, group)
        whole = bare.extent.met(self.page)
        return self.treated(bare, item.treatment[:steps], self.frame(item, group), beneath, whole, item.seed)

    def bare(self, item: Mark | Group, beneath, group: Group | None = None):
        """A mark's art, or a group's members stacked on nothing. Beneath a member: what is beneath its group with the
        lower members landed on it."""
        if isinstance(item, Mark):
            return self.art(item, group)
        canvas = nodes.Nothing()
        for member in item.members:
            node, frame = self.item(member, beneath, None, item), self.frame(member, item)
            canvas = self._landed(canvas, node, member.landing, frame)
            beneath = self._landed(beneath, node, member.landing, frame)
        return canvas

    def treated(self, node, treatment: tuple[Step, ...], frame: Frame, beneath, whole: Box, item_seed: int = 0):
        for step in treatment:
            if step.on and step.landing.strength > 0:
                node = self._once((step.id, node.key, beneath.key), partial(self._stepped, step, frame, node, beneath, item_seed, whole))
        return node

    def _stepped(self, step: Step, frame: Frame, node, beneath, item_seed: int, whole: Box) -> StepNode:
        survey = self._survey(step, frame, node, beneath, item_seed, whole)
        return StepNode(step, frame, node, beneath, item_seed, survey, self._outlines(step.landing), self.linear)

    def _survey(self, step: Step, frame: Frame, node, beneath, item_seed: int, whole: Box) -> Survey | None:
        if kind_named(step.kind).whole is None:
            return None
        if self.survey is not self:
            return self.survey.stands[step.id]
        self.stands[step.id] = Survey(step, frame, node, beneath, item_seed, whole)
        return self.stands[step.id]

    def _landed(self, canvas, node, landing: Landing, frame: Frame):
        return self._once(("landed", canvas.key, node.key, id(landing), frame),
                          lambda: (nodes.Landed(canvas, node, landing, frame, self._outlines(landing), self.linear), landing))[0]

    def _outlines(self, landing: Landing) -> dict:
        return {id: self.art(*self._found(id)) for id in landing.marks()}

    def extent(self, id: str) -> Box:
        """The output px that an item may fill before its treatment."""
        item, group = self._found(id)
        return self.bare(item, nodes.Nothing(), group).extent

    def _found(self, id: str) -> tuple[Mark | Group, Group | None]:
        """An item with the group it is in."""
        for item in self.piece.stack:
            for member in getattr(item, "members", ()):
                if member.id == id:
                    return member, item
        return self.piece.item(id), None

    def art(self, mark: Mark, group: Group | None = None):
        return self._once(("art", mark.id), lambda: self._node_of(mark.art, mark, group))

    def box(self, item: Mark | Group, group: Group | None = None) -> MarkBox:
        """Where an item lies on the piece."""
        place = self._place(item, group)
        width, height = self._size(item)
        return MarkBox(place.x, place.y, width * place.scale, height * place.scale, math.degrees(place.rotation))

    def boxes(self) -> dict[str, MarkBox]:
        """The boxes of all items, by id."""
        return {item.id: self.box(item, group) for group in (None, *self.piece.groups())
                for item in (self.piece.stack if group is None else group.members)}

    def frame(self, item: Mark | Group, group: Group | None = None) -> Frame:
        return self._once(("frame", item.id), lambda: self._frame(item, group))

    def _frame(self, item: Mark | Group, group: Group | None) -> Frame:
        box, place = self.box(item, group), self._place(item, group)
        return Frame(box.x, box.y, place.rotation, box.height, self.piece.ppi, self.scale, self.piece.size_px[1])

    def _size(self, item: Mark | Group) -> tuple[float, float]:
        """The size of an item in its own scale, before its placement."""
        if isinstance(item, Mark):
            return item.art.box_px(self.piece.ppi, self.piece.size_px[1])
        corners = [corner for member in item.members
                   for corner in self._own_place(member).corners(*self._size(member))]
        return (2 * max(abs(x) for x, _ in corners), 2 * max(abs(y) for _, y in corners))

    def _own_place(self, item: Mark | Group) -> Place:
        place, tall = item.placement, self.piece.size_px[1]
        x, y = place.x.in_px(self.piece.ppi, tall), place.y.in_px(self.piece.ppi, tall)
        return Place(x, y, place.scale, math.radians(place.rotation_deg))

    def _place(self, item: Mark | Group, group: Group | None) -> Place:
        own = self._own_place(item)
        return self._own_place(group).of(own) if group else own

    def _matrix(self, place: Place, unit: float) -> tuple[float, ...]:
        size = unit * place.scale * self.scale
        a, b = math.cos(place.rotation) * size, math.sin(place.rotation) * size
        return a, b, -b, a, place.x * self.scale, place.y * self.scale

    @singledispatchmethod
    def _node_of(self, art, mark, group):
        raise TypeError(f"no node draws {type(art).__name__}")

    @_node_of.register
    def _(self, art: Lettering, mark, group):
        unit = art.unit_px(self.piece.ppi, self.piece.size_px[1])
        return nodes.LetteringNode(art, self._matrix(self._place(mark, group), unit))

    @_node_of.register
    def _(self, art: Vector, mark, group):
        return nodes.VectorNode(art, self._matrix(self._place(mark, group), 1.0), self.scale)
