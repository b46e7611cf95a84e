"""From a document to a graph of nodes at one scale.

The order is fixed in docs/engine.md: the ground and its treatment; each mark, bottom up, treated and landed; the
treatment of the whole piece.
"""

import math
from dataclasses import dataclass
from functools import singledispatchmethod

from kilncore.artwork.lettering import Lettering
from kilncore.artwork.vector import Vector
from kilncore.document import Mark, Piece, Step
from kilncore.engine import nodes
from kilncore.engine.box import Box, scaled
from kilncore.frame import Frame
from kilncore.parts import Landing

BARE_STOCK = "#aaa69c"  # neither light nor dark art is lost on it


@dataclass(frozen=True)
class Point:
    """A point in the making of a piece: `part` ('ground', a mark's id, 'piece') after its first `steps` steps.

    One more than a mark has steps: it has landed its own way; before, it lands as normal. A mark after no steps is
    shown as bare art `on_stock`, or else on what is beneath it.
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


class Plan:
    """Builds the graph of one piece at one scale."""

    def __init__(self, piece: Piece, scale: float = 1.0):
        self.piece, self.scale = piece, scale
        self.page = scaled(0, 0, *piece.size_px, scale)
        middle = (round(piece.size_px[0] / 2), round(piece.size_px[1] / 2))
        self.page_frame = Frame(*middle, 0.0, piece.size_px[1], piece.ppi, scale)

    def finished(self, with_ground: bool = True):
        """The whole piece. Without its ground, modes of the marks act as normal; what lies beneath still counts."""
        ground = self.ground()
        canvas = painted = ground if with_ground else nodes.Nothing()
        beneath = ground
        for mark in self.piece.stack:
            item = self.item(mark, beneath)
            landing = mark.landing if with_ground else mark.landing.model_copy(update={"mode": "normal"})
            painted = nodes.Landed(painted, item, landing)
            beneath = painted if with_ground else nodes.Landed(beneath, item, mark.landing)
            canvas = painted
        return self.treated(canvas, self.piece.treatment, self.page_frame, ground, self.page)

    def up_to(self, point: Point):
        """The piece as it stands at a point: what the strip's pictures show."""
        ground = self.ground(point.steps if point.part == "ground" else None)
        if point.part == "ground":
            return ground
        canvas = ground
        for mark in self.piece.stack:
            if mark.id == point.part:
                return self._mark_up_to(mark, canvas, point)
            canvas = nodes.Landed(canvas, self.item(mark, canvas), mark.landing)
        steps = self.piece.treatment[: point.steps]
        return self.treated(canvas, steps, self.page_frame, ground, self.page)

    def _mark_up_to(self, mark: Mark, canvas, point: Point):
        if point.steps == 0 and point.on_stock:
            return nodes.Landed(nodes.Colour(BARE_STOCK), self.art(mark), Landing())
        landing = mark.landing if point.steps > len(mark.treatment) else Landing()
        return nodes.Landed(canvas, self.item(mark, canvas, point.steps), landing)

    def ground(self, steps: int | None = None):
        fill = self.piece.ground.fill
        if fill.kind == "none":
            node = nodes.Nothing()
        elif fill.kind == "colour":
            node = nodes.Colour(fill.colour)
        else:
            node = nodes.TextureGround(fill, self.page_frame)
        return self.treated(node, self.piece.ground.treatment[:steps], self.page_frame, nodes.Nothing(), self.page)

    def item(self, mark: Mark, beneath, steps: int | None = None):
        """A mark, treated, not yet landed."""
        art = self.art(mark)
        return self.treated(art, mark.treatment[:steps], self.frame(mark), beneath, art.extent.met(self.page))

    def treated(self, node, treatment: tuple[Step, ...], frame: Frame, beneath, whole: Box):
        for step in treatment:
            if step.on and step.landing.strength > 0:
                node = nodes.StepNode(step, frame, node, beneath, whole)
        return node

    def art(self, mark: Mark):
        return self._node_of(mark.art, mark)

    def box(self, mark: Mark) -> MarkBox:
        width, height = mark.art.box_px(self.piece.ppi, self.piece.size_px[1])
        x, y = self._middle(mark)
        place = mark.placement
        return MarkBox(x, y, width * place.scale, height * place.scale, place.rotation_deg)

    def frame(self, mark: Mark) -> Frame:
        box = self.box(mark)
        return Frame(box.x, box.y, math.radians(box.rotation_deg), box.height, self.piece.ppi, self.scale)

    def _middle(self, mark: Mark) -> tuple[float, float]:
        place, tall = mark.placement, self.piece.size_px[1]
        return place.x.in_px(self.piece.ppi, tall), place.y.in_px(self.piece.ppi, tall)

    def _matrix(self, mark: Mark, unit: float) -> tuple[float, ...]:
        x, y = self._middle(mark)
        angle, size = math.radians(mark.placement.rotation_deg), unit * mark.placement.scale * self.scale
        a, b = math.cos(angle) * size, math.sin(angle) * size
        return a, b, -b, a, x * self.scale, y * self.scale

    @singledispatchmethod
    def _node_of(self, art, mark):
        raise TypeError(f"no node draws {type(art).__name__}")

    @_node_of.register
    def _(self, art: Lettering, mark):
        return nodes.LetteringNode(art, self._matrix(mark, art.unit_px(self.piece.ppi, self.piece.size_px[1])))

    @_node_of.register
    def _(self, art: Vector, mark):
        return nodes.VectorNode(art, self._matrix(mark, 1.0))
