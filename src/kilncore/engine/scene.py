"""What is the same in every picture of a piece at one scale: its page, its frames, and its bare
art.
"""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from kilncore.artwork.base import Drawing
from kilncore.document import Group, Mark, Piece
from kilncore.engine.drawings import drawing_of
from kilncore.engine.nodes import ArtNode, Landed
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
        """A mark's bare art."""
        return self.once(("art", mark.id), lambda: ArtNode(self.drawn(mark, self._drawing(mark))))

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
        stacked: Node = Nothing()
        for member in item.members:
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
