"""The nodes of a graph. Each has

    key      a hash over all that its pixels depend on
    extent   the box beyond which it is transparent
    tint     the one straight colour of a picture that has no other; otherwise None
    sources  the nodes that it reads, each with the margin around a pixel that it needs
    cheap    it is drawn faster than it could be stored
    drawn_from  the nodes from whose forms its own follows, and
    form(assets, *forms)  its own: which rows its pictures have (see `kilncore.rows.form`)
    onto     the node whose picture it writes on, pixel by pixel, on the same tape; None if there is none
    on_grid  it is only ever drawn in whole tiles of the fixed grid, and always kept
    within   a node that it reads pixel by pixel and beyond which it has nothing; None if there is none
    write(reader, tape, box)   its rows, as a Picture; None if there is nothing. Only `box` of the tape's box can have any of it

A picture's form follows from the node alone, never from the box: the way there and back again would round.
"""

import math
from dataclasses import dataclass, field

import numpy as np

from kilncore.artwork.coverage import coverage
from kilncore.artwork.vector import BLOCK, rasterised
from kilncore.box import EVERYWHERE, NOWHERE, Box, cut, put, tiles_over
from kilncore.colour import hex_to_rgb
from kilncore.engine.keys import key_of
from kilncore.engine.landing import painted
from kilncore.engine.texture_rows import texture_rows
from kilncore.engine.view import ItemView
from kilncore.engine.weights import outline_reach, weight_of
from kilncore.frame import Frame
from kilncore.landing import Landing
from kilncore.rows.form import OPAQUE, Form
from kilncore.rows.picture import Picture, nothing, of_planes, tinted
from kilncore.steps.coat import as_paint


class Node:
    tint = None
    sources = ()
    cheap = False
    on_grid = False
    drawn_from = ()
    onto = None
    within = None

    def form(self, assets, *forms: Form) -> Form:
        return Form()


@dataclass(frozen=True)
class Nothing(Node):
    key: str = "nothing"
    extent: Box = NOWHERE
    cheap = True


@dataclass(frozen=True)
class Colour(Node):
    colour: str
    extent: Box = EVERYWHERE
    cheap = True

    @property
    def key(self) -> str:
        return f"colour {self.colour}"

    def form(self, assets):
        return OPAQUE

    def write(self, reader, tape, box):
        return Picture(tape, tuple(tape.constant(float(c)) for c in hex_to_rgb(self.colour)))


@dataclass(frozen=True)
class TextureGround(Node):
    fill: object
    frame: Frame
    extent: Box = EVERYWHERE
    key: str = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("texture ground", self.fill, self.frame))

    def form(self, assets):
        ref = self.fill.texture
        return OPAQUE if ref.edges != "none" and len(assets.texture(ref.hash).planes) < 4 else Form()

    @property
    def cheap(self) -> bool:
        """Unscaled and upright, its own bytes are read."""
        return abs(self.frame.texture_matrix(self.fill.placement)[0]) == 1

    def write(self, reader, tape, box):
        matrix = self.frame.texture_matrix(self.fill.placement)
        rows, share = texture_rows(reader, tape, box, self.fill.texture, matrix)
        return of_planes(tape, as_paint(rows, share))


def _extent(points: np.ndarray) -> Box:
    (left, top), (right, bottom) = points.min(0), points.max(0)
    return Box(math.floor(left) - 1, math.floor(top) - 1, math.ceil(right) + 1, math.ceil(bottom) + 1)


@dataclass(frozen=True)
class LetteringNode(Node):
    """matrix : outline units (ems) to output px."""

    art: object
    matrix: tuple[float, ...]
    key: str = field(init=False)
    extent: Box = field(init=False)
    tint: tuple[float, ...] = field(init=False)
    on_grid = True

    def __post_init__(self):
        object.__setattr__(self, "tint", tuple(float(c) for c in hex_to_rgb(self.art.colour)))
        edges = self.art.outline().placed(self.matrix)
        object.__setattr__(self, "key", key_of("lettering", self.art, self.matrix))
        object.__setattr__(self, "extent", _extent(edges.reshape(-1, 2)) if len(edges) else NOWHERE)

    def form(self, assets):
        return Form(premultiplied=False, tint=self.tint)

    def write(self, reader, tape, box):
        return tinted(tape, *tape.load(self._drawn(reader, box), box), self.tint)

    def _drawn(self, reader, box):
        placed = reader.once((self.key, "edges"), lambda: self.art.outline().placed(self.matrix))
        edges = placed[(placed[:, [1, 3]].max(1) > box.top) & (placed[:, [1, 3]].min(1) < box.bottom)]
        return coverage(edges - np.array([box.left, box.top] * 2, np.float64), box.width, box.height)[None]


PHASES = 16  # of a pixel: finer places of a drawing are not told apart


@dataclass(frozen=True)
class VectorNode(Node):
    """matrix : the drawing's px, from its middle, to output px. unit : output px per document px.

    Drawn in blocks of its own grid, which begins at its upper left: moved by whole pixels it is the same drawing, and is not
    drawn again.
    """

    art: object
    matrix: tuple[float, ...]
    unit: float = 1.0
    key: str = field(init=False)
    extent: Box = field(init=False)
    on_grid = True

    def __post_init__(self):
        a, b, c, d, e, f = self.matrix
        e, f = (round(n * PHASES) / PHASES for n in (e, f))
        w, h = self.art.width / 2, self.art.height / 2
        extent = _extent(np.array([(a * x + c * y + e, b * x + d * y + f) for x in (-w, w) for y in (-h, h)]))
        own, corner = (a, b, c, d, e - extent.left, f - extent.top), (extent.left, extent.top)
        for name, value in (("extent", extent), ("_own", own), ("_corner", corner), ("_own_extent", Box(0, 0, extent.width, extent.height)),
                            ("_own_key", key_of("vector", self.art.hash, own, self.unit))):
            object.__setattr__(self, name, value)
        object.__setattr__(self, "key", key_of(self._own_key, corner))

    def write(self, reader, tape, box):
        return of_planes(tape, self._drawn(reader, box), box)

    def lacking(self, reader, box: Box) -> list[Box]:
        """The blocks behind a box that are not drawn yet."""
        return [block for block in self._blocks(box) if (self._own_key, block) not in reader.cache]

    def fetch(self, reader, block: Box) -> np.ndarray:
        """(H, W, 4) straight bytes of one block, drawn by a child process unless it is there."""
        return reader.once((self._own_key, block), lambda: self._block(reader, block))

    def _blocks(self, box: Box) -> list[Box]:
        left, top = self._corner
        here = box.met(self.extent).moved(-left, -top)
        return [block.met(self._own_extent) for block in tiles_over(here, (BLOCK, BLOCK))]

    def _drawn(self, reader, box):
        planes = np.empty((4, box.height, box.width), np.float32)
        for block in self._blocks(box):
            part = block.moved(*self._corner)
            put(planes, box, part.met(box), cut(np.moveaxis(self.fetch(reader, block), 2, 0), part, part.met(box)))
        planes /= np.float32(255)
        planes[:3] *= planes[3]
        return planes

    def _block(self, reader, block: Box):
        a, b, c, d, e, f = self._own
        matrix = (a, b, c, d, e - block.left, f - block.top)
        return rasterised(reader.assets.data(self.art.hash), (self.art.width, self.art.height), matrix, block.width, block.height, self.unit)


@dataclass(frozen=True)
class Landed(Node):
    """An item on what is beneath it. outlines : by mark id, the art of the marks that hold it in or out."""

    canvas: object
    item: object
    landing: Landing
    frame: Frame
    outlines: dict = field(default_factory=dict)
    linear: bool = False
    key: str = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("landed", self.canvas.key, self.item.key, *landing_key(self)))
        object.__setattr__(self, "extent", self.canvas.extent.joined(self.item.extent))

    @property
    def sources(self):
        reach = outline_reach(self.landing, self.frame)
        return (self.canvas, 0), (self.item, 0), *((outline, reach) for outline in self.outlines.values())

    @property
    def drawn_from(self):
        return self.canvas, self.item

    @property
    def onto(self):
        return self.canvas

    def form(self, assets, canvas: Form, item: Form):
        return Form(firm=canvas.firm or item.firm) if canvas.alpha else OPAQUE

    def write(self, reader, tape, box):
        canvas = reader.picture(self.canvas, tape)
        here = self.item.extent.met(box)
        if here.empty or not self.landing.strength:
            return canvas
        form = reader.forms.of(self)
        out = form.fitted(canvas or nothing(tape)).copied()
        with tape.block():
            base = reader.picture(reader.art_of(self.item), tape)
            if base is not None and base.alpha is not None:
                tape.skip_if_blank(base.alpha)
            item = reader.picture(self.item, tape)
            if item is not None:
                view = ItemView(reader, self, tape, here, canvas)
                found = painted(canvas, item, self.landing, weight_of(self.landing, view, item), linear=self.linear)
                out.becomes(form.fitted(found))
        return out


def landing_key(node) -> tuple:
    """What a landing depends on, apart from the pictures that meet: ids of marks are told by their outlines' keys."""
    landing = node.landing
    if not landing.limits and not landing.fade and not landing.touch:
        return (landing, node.linear)
    keys = {id: outline.key for id, outline in node.outlines.items()}
    limits = tuple(limit.model_copy(update={"mark": "mark"}) if limit.kind == "mark" else limit for limit in landing.limits)
    named = tuple(keys.get(getattr(limit, "mark", None)) for limit in landing.limits)
    return (landing.model_copy(update={"limits": limits}), named, node.frame, node.linear)
