"""The nodes of a graph. Each has

    key      a hash over all that its pixels depend on
    extent   the box beyond which it is transparent
    tint     the one straight colour of a picture that has no other: it is drawn as alpha alone; otherwise None
    sources  the nodes that it reads, each with the margin around a pixel that it needs
    cheap    it is drawn faster than it could be stored
    opaque(assets)  whether it covers every pixel whole, for certain
    on_grid  it is only ever drawn in whole tiles of the fixed grid, and always kept
    draw(reader, box)   its pixels: (4, H, W) premultiplied, or (1, H, W) alpha where it has a tint
"""

import math
from dataclasses import dataclass, field

import numpy as np

from kilncore.artwork.coverage import coverage
from kilncore.artwork.vector import BLOCK, rasterised
from kilncore.box import EVERYWHERE, NOWHERE, Box, cut, put, tiles_over
from kilncore.colour import hex_to_rgb
from kilncore.engine.full import full
from kilncore.engine.keys import key_of
from kilncore.engine.landing import painted
from kilncore.engine.view import ItemView, sampled
from kilncore.engine.weights import outline_reach, weight_of
from kilncore.frame import Frame
from kilncore.landing import Landing
from kilncore.steps.coat import as_paint


class Node:
    tint = None
    sources = ()
    cheap = False
    on_grid = False

    def opaque(self, assets) -> bool:
        return False


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

    def opaque(self, assets) -> bool:
        return True

    def draw(self, reader, box):
        out = np.ones((4, box.height, box.width), np.float32)
        out[:3] = hex_to_rgb(self.colour)[:, None, None]
        return out


@dataclass(frozen=True)
class TextureGround(Node):
    fill: object
    frame: Frame
    extent: Box = EVERYWHERE
    key: str = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("texture ground", self.fill, self.frame))

    def opaque(self, assets) -> bool:
        ref = self.fill.texture
        return ref.edges != "none" and len(assets.texture(ref.hash).planes) < 4

    def draw(self, reader, box):
        found = sampled(reader.assets, self.fill.texture, self.frame.texture_matrix(self.fill.placement), box)
        return as_picture(*found)


def as_picture(planes, share):
    """Sampled texture planes as a premultiplied (4, H, W) picture."""
    planes = as_paint(planes, share)
    if len(planes) == 4:
        return planes
    picture = np.ones((4, *planes.shape[1:]), np.float32)
    picture[:3] = planes
    return picture


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

    def draw(self, reader, box):
        placed = reader.once((self.key, "edges"), lambda: self.art.outline().placed(self.matrix))
        edges = placed[(placed[:, [1, 3]].max(1) > box.top) & (placed[:, [1, 3]].min(1) < box.bottom)]
        return coverage(edges - np.array([box.left, box.top] * 2, np.float64), box.width, box.height)[None]


@dataclass(frozen=True)
class VectorNode(Node):
    """matrix : the drawing's px, from its middle, to output px. Drawn in blocks of a coarse fixed grid."""

    art: object
    matrix: tuple[float, ...]
    key: str = field(init=False)
    extent: Box = field(init=False)
    on_grid = True

    def __post_init__(self):
        a, b, c, d, e, f = self.matrix
        w, h = self.art.width / 2, self.art.height / 2
        corners = np.array([(a * x + c * y + e, b * x + d * y + f) for x in (-w, w) for y in (-h, h)])
        object.__setattr__(self, "key", key_of("vector", self.art.hash, self.matrix))
        object.__setattr__(self, "extent", _extent(corners))

    def draw(self, reader, box):
        planes = np.empty((4, box.height, box.width), np.float32)
        for block in tiles_over(box, (BLOCK, BLOCK)):
            part = block.met(self.extent)
            pixels = reader.once((self.key, "block", part), lambda part=part: self._block(reader, part))
            put(planes, box, part.met(box), cut(np.moveaxis(pixels, 2, 0), part, part.met(box)))
        planes /= np.float32(255)
        planes[:3] *= planes[3]
        return planes

    def _block(self, reader, part: Box):
        a, b, c, d, e, f = self.matrix
        matrix = (a, b, c, d, e - part.left, f - part.top)
        return rasterised(reader.assets.data(self.art.hash), (self.art.width, self.art.height), matrix,
                          part.width, part.height)


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

    def opaque(self, assets) -> bool:
        return self.canvas.opaque(assets)

    def draw(self, reader, box):
        here = self.item.extent.met(box)
        canvas = full(reader.read(self.canvas, box), self.canvas.tint)
        if here.empty or not self.landing.strength:
            return canvas
        if here.width * here.height * 2 > box.width * box.height:
            here = box  # what is empty costs less than cutting and putting back
        item = full(reader.read(self.item, here), self.item.tint)
        part = canvas if here == box else np.ascontiguousarray(cut(canvas, box, here))
        view = ItemView(reader, self, here, part)
        part = painted(part, item, self.landing, weight_of(self.landing, view, item), linear=self.linear)
        if here == box:
            return part
        out = canvas.copy()
        put(out, box, here, part)
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
