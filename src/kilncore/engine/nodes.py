"""The engine's own picture nodes: art as placed, and items landed on a canvas. Steps have theirs in
`step_node`.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from kilncore.artwork.base import Drawing
from kilncore.compiled.program import Program
from kilncore.engine.draft_ranges import with_shared_tones
from kilncore.engine.merging import painted
from kilncore.engine.view import ItemView
from kilncore.engine.weights import weight_of
from kilncore.geometry.box import Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.plane import WholeValue
from kilncore.graph.protocols import Assets, NodeReader
from kilncore.landing import Landing
from kilncore.model.frame import Frame
from kilncore.pixels.picture import Picture, nothing, of_planes, tinted
from kilncore.pixels.pixel_format import OPAQUE, PixelFormat


@dataclass(frozen=True)
class ArtNode(Node):
    """Art as it is placed."""

    drawing: Drawing
    on_grid = True

    @property
    def key(self) -> str:
        """Of the drawing."""
        return self.drawing.key

    @property
    def extent(self) -> Box:
        """Of the drawing."""
        return self.drawing.extent

    @property
    def tint(self) -> tuple[float, ...] | None:
        """Of the drawing."""
        return self.drawing.tint

    def pixel_format(self, assets: Assets | None) -> PixelFormat:
        """Alpha alone, if the art is of one colour."""
        return PixelFormat(premultiplied=False, tint=self.tint) if self.tint else PixelFormat()

    def write(self, reader: NodeReader, program: Program, box: Box) -> Picture:
        """The art in that box."""
        planes = self.drawing.planes(reader, box)
        return (
            tinted(program, program.load(planes, box)[0], self.tint)
            if self.tint
            else of_planes(program, planes, box)
        )

    def lacking(self, reader: NodeReader, box: Box) -> list[Box]:
        """What has to be waited for before a box is drawn."""
        return self.drawing.lacking(reader, box)

    def fetch(self, reader: NodeReader, part: Box) -> None:
        """Wait for one of them."""
        self.drawing.fetch(reader, part)


@dataclass(frozen=True)
class FilledArt(Node):
    """Art that is filled with another picture: that, where the art is."""

    shape: Node
    fill: Node
    key: str = field(init=False)
    extent: Box = field(init=False)
    settings = ()

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("filled art", self.shape.key, self.fill.key))
        object.__setattr__(self, "extent", self.shape.extent)

    @property
    def sources(self):
        """Both, pixel by pixel."""
        return (self.shape, 0), (self.fill, 0)

    @property
    def drawn_from(self):
        """Both."""
        return self.shape, self.fill

    @property
    def within(self):
        """The art's own shape."""
        return self.shape

    def pixel_format(
        self, assets: Assets | None, shape: PixelFormat, fill: PixelFormat
    ) -> PixelFormat:
        """With alpha."""
        return PixelFormat()

    def write(self, reader: NodeReader, program: Program, box: Box) -> Picture | None:
        """The fill, times how much the art covers."""
        shape = reader.picture(self.shape, program)
        fill = reader.picture(self.fill, program)
        if shape is None or fill is None:
            return None
        filled, covered = fill.premultiply(), shape.covered
        colour = tuple(row * covered for row in filled.colour)
        return Picture(program, colour, filled.covered * covered, premultiplied=True)


@dataclass(frozen=True)
class Landed(Node):
    """An item on what is beneath it. planes : those of its landing, by name."""

    canvas: Node
    item: Node
    landing: Landing
    frame: Frame
    planes: Mapping[str, Node] = field(default_factory=dict)
    linear: bool = False
    key: str = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        object.__setattr__(
            self, "key", key_of("landed", self.canvas.key, self.item.key, *landing_key(self))
        )
        object.__setattr__(self, "extent", self.canvas.extent.union(self.item.extent))

    @property
    def settings(self):
        """How the item lands."""
        return self.landing.bare, plane_names(self), self.linear

    @property
    def sources(self):
        """Canvas, item and planes, all pixel by pixel."""
        return (
            (self.canvas, 0),
            (self.item, 0),
            *((plane, 0) for plane in local_planes(self).values()),
        )

    @property
    def wholes(self):
        """Of its planes."""
        return whole_values(self)

    @property
    def drawn_from(self):
        """Canvas and item."""
        return self.canvas, self.item

    @property
    def onto(self):
        """The canvas."""
        return self.canvas

    def pixel_format(
        self, assets: Assets | None, canvas: PixelFormat, item: PixelFormat
    ) -> PixelFormat:
        """Opaque on an opaque canvas."""
        return PixelFormat(solidity=canvas.solidity or item.solidity) if canvas.alpha else OPAQUE

    def write(self, reader: NodeReader, program: Program, box: Box) -> Picture | None:
        """The canvas, with the item over it where there is any of it."""
        canvas = reader.picture(self.canvas, program)
        here = self.item.extent.intersection(box)
        if here.empty or not self.landing.strength:
            return canvas
        form = reader.pixel_formats.of(self)
        out = form.fitted(canvas or nothing(program)).copied()
        with program.block():
            item = where_there(self.item, reader, program)
            if item is not None:
                view = ItemView(reader, self, program, here, canvas)
                laid = painted(
                    canvas,
                    item,
                    self.landing,
                    weight_of(self.landing, view, item),
                    linear=self.linear,
                )
                laid = with_shared_tones(laid, canvas, item, self.landing, view, None, True)
                out.becomes(form.fitted(laid))
        return out


def where_there(item: Node, reader: NodeReader, program: Program) -> Picture | None:
    """An item's picture; what follows in the block is left out where there is nothing of it."""
    base = reader.picture(reader.art_of(item), program)
    if base is not None and base.alpha is not None:
        program.skip_if_blank(base.alpha)
    return reader.picture(item, program)


class LocalKeys:
    """Keys of what a stack shows within boxes: those of the items which reach into one, and of what
    they land on. They stay while other items are moved elsewhere.
    """

    def __init__(self, root: Node):
        self._items, node = [], root
        while isinstance(node, Landed):
            self._items.append((node.item.extent, key_of(node.item.key, landing_key(node))))
            node = node.canvas
        self._ground = node.key

    def of(self, box: Box) -> tuple:
        """Of one box."""
        reaching = (key for extent, key in self._items if not extent.intersection(box).empty)
        return self._ground, *reaching


def plane_names(node: Any) -> tuple[str, ...]:
    """Of a node's planes, without the ids of marks."""
    return tuple(name.split()[0] for name in node.planes)


def landing_key(node: Any) -> tuple:
    """What a landing depends on, apart from the pictures that meet: ids of marks are told by their
    planes' keys.
    """
    planes = tuple((name.split()[0], plane.key) for name, plane in node.planes.items())
    return node.landing.bare, planes, node.linear


def local_planes(node: Any) -> dict[str, Node]:
    """The planes of a node that are drawn as pictures are."""
    return {name: plane for name, plane in node.planes.items() if not isinstance(plane, WholeValue)}


def whole_values(node: Any) -> tuple[Node, ...]:
    """The values that a node's planes need before it is drawn."""
    return tuple(
        value
        for plane in node.planes.values()
        for value in ((plane,) if isinstance(plane, WholeValue) else plane.wholes)
    )
