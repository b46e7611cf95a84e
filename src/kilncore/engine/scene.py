"""What is the same in every picture of a piece at one scale: its page, its frames, and its bare
art.
"""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from kilncore.artwork.base import Drawing
from kilncore.document import Group, Mark, Piece
from kilncore.engine.combining import CUT, MET, STACKED, Combined, outlined
from kilncore.engine.drawings import drawing_of
from kilncore.engine.nodes import ArtNode, FilledArt, Landed
from kilncore.fills.base import Area
from kilncore.geometry.affine import Affine
from kilncore.geometry.box import EVERYWHERE, NOWHERE, Box, scaled
from kilncore.graph.node import Node, Nothing
from kilncore.landing import Landing
from kilncore.layout.layout import Layout
from kilncore.model.frame import Frame


class Scene:
    """A piece at one scale. page : all of it in output px. linear : whether it is composed in
    linear light.
    """

    def __init__(self, piece: Piece, scale: float = 1.0):
        self.piece, self.scale, self.layout = piece, scale, Layout(piece)
        self.page = scaled(0, 0, *piece.size_px, scale)
        self.page_frame = replace(self.layout.page_frame, scale=scale)
        self.linear = piece.light == "linear"
        # what was made already: many pictures of one piece share most of their graph
        self._known: dict = {}

    def once(self, key: Any, make: Callable):
        """What `make` gives, made once for a key."""
        if key not in self._known:
            self._known[key] = make()
        return self._known[key]

    def frame(self, item: Mark | Group) -> Frame:
        """An item's frame at this scale."""
        return self.once(("frame", item.id), lambda: self.framed(item))

    def framed(self, item: Mark | Group) -> Frame:
        """An item's frame as it is to be drawn here."""
        return replace(self.layout.frame(item), scale=self.scale)

    def art(self, mark: Mark) -> Node:
        """A mark's bare art; where what lies beneath it fills it, its shape."""
        return self.once(("art", mark.id), lambda: self._art(mark, Nothing()))

    def art_on(self, mark: Mark, beneath: Node) -> Node:
        """The same on what lies beneath it."""
        if not of_beneath(mark):
            return self.art(mark)
        return self.once(("art", mark.id, beneath.key), lambda: self._art(mark, beneath))

    def _art(self, mark: Mark, beneath: Node) -> Node:
        drawing = self.drawn(mark, self._drawing(mark))
        fill: Any = getattr(mark.art, "fill", None)
        if fill is None:
            return ArtNode(drawing)
        under, body, over = drawing.split
        if body is None:
            return ArtNode(drawing)
        filled: Node = ArtNode(body)
        if not fill.of_beneath:
            filled = FilledArt(filled, fill.node(self._area(mark)))
        elif not isinstance(beneath, Nothing):
            filled = FilledArt(filled, beneath)
        nodes = [ArtNode(under) if under else None, filled, ArtNode(over) if over else None]
        there = [one for one in nodes if one is not None]
        return there[0] if len(there) == 1 else self._stacked(there, mark)

    def combined_art(self, group: Group) -> Node | None:
        """The art of a group whose members are combined as outlines; None where they are not, or
        cannot be.
        """
        if group.combine == STACKED:
            return None
        return self.once(("combined", group.id), lambda: self._combined(group))

    def _combined(self, group: Group) -> Node | None:
        members: Any = [one for one in group.members if not one.left_out]
        plain = all(
            isinstance(one, Mark)
            and not any(step.on for step in one.treatment)
            and one.landing == Landing()
            and not of_beneath(one)
            for one in members
        )
        if not members or not plain:
            return None
        drawing = outlined([self._drawing(one) for one in members], group.combine)
        if drawing is None:
            return None
        fill: Any = getattr(members[0].art, "fill", None)
        art = ArtNode(drawing)
        return art if fill is None else FilledArt(art, fill.node(self._area(members[0])))

    def _stacked(self, nodes: list[Node], item: Mark | Group) -> Node:
        stacked: Node = Nothing()
        for node in nodes:
            stacked = Landed(stacked, node, Landing(), self.frame(item))
        return stacked

    def _area(self, mark: Mark) -> Area:
        """What a fill of it fills."""
        wide, tall = mark.art.box_px(self.piece.ppi, self.piece.size_px[1])
        placed = Affine(self.scale, 0, 0, self.scale, 0, 0).of(self.layout.map(mark))
        return Area(self.frame(mark), placed.of(Affine(wide, 0, 0, tall, 0, 0)))

    def drawn(self, mark: Mark, drawing: Drawing) -> Drawing:
        """A mark's art as it is to be drawn here."""
        return drawing

    def _drawing(self, mark: Mark):
        placed = Affine(self.scale, 0, 0, self.scale, 0, 0).of(self.layout.map(mark))
        page = self.scale, self.piece.ppi, self.piece.size_px[1]
        return drawing_of(mark.art, placed, self.frame(mark).laid, *page)

    def outline_art(self, item_id: str) -> Node:
        """The bare art of a mark, or of all that a group has: what holds something in or out."""
        return self.once(("outline of", item_id), lambda: self._arts(self.layout.item(item_id)[0]))

    def _arts(self, item: Mark | Group) -> Node:
        if isinstance(item, Mark):
            return self.art(item)
        whole = self.combined_art(item)
        if whole is not None:
            return whole
        stacked: Node = Nothing()
        for member in item.members:
            if item.combine in (CUT, MET) and member is not item.members[0]:
                stacked = Combined(stacked, self._arts(member), item.combine)
                continue
            stacked = Landed(stacked, self._arts(member), Landing(), self.frame(member))
        return stacked

    def whole(self, node: Node) -> Box:
        """The box over which whole-item values are read: all that is treated, though not farther
        off the page than a quarter of its larger side; what fills everything is read over the page.
        """
        if node.extent == EVERYWHERE:
            return self.page
        around = max(self.page.width, self.page.height) // 4
        near = node.extent.intersection(self.page.expanded(around))
        return NOWHERE if near.empty else near


def of_beneath(mark: Mark) -> bool:
    """Whether what lies beneath a mark fills it."""
    return bool(getattr(getattr(mark.art, "fill", None), "of_beneath", False))
