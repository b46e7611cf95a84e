"""The nodes of a graph: each has a key, an extent beyond which it is transparent, and draws any tile of itself."""

import math
from dataclasses import dataclass, field

import numpy as np

from kilncore import compose
from kilncore.artwork.vector import BLOCK, rasterised
from kilncore.colour import hex_to_rgb
from kilncore.engine.box import EVERYWHERE, NOWHERE, Box, cut, put
from kilncore.engine.keys import key_of
from kilncore.engine.landing import landed, passes
from kilncore.engine.view import StepView
from kilncore.frame import Frame
from kilncore.parts import Landing
from kilncore.steps import kind_named
from kilncore.steps.coat import as_picture


@dataclass(frozen=True)
class Nothing:
    key: str = "nothing"
    extent: Box = NOWHERE

    def draw(self, reader, box):
        return None


@dataclass(frozen=True)
class Colour:
    colour: str
    extent: Box = EVERYWHERE

    @property
    def key(self) -> str:
        return f"colour {self.colour}"

    def draw(self, reader, box):
        out = np.ones((4, box.height, box.width), np.float32)
        out[:3] = hex_to_rgb(self.colour)[:, None, None]
        return out


@dataclass(frozen=True)
class TextureGround:
    fill: object
    frame: Frame
    extent: Box = EVERYWHERE
    key: str = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("texture ground", self.fill, self.frame))

    def draw(self, reader, box):
        texture = reader.assets.texture(self.fill.texture.hash)
        matrix = self.frame.texture_matrix(self.fill.placement)
        planes = texture.sample(matrix, box.left, box.top, box.width, box.height, self.fill.texture.tiles)
        return compose.clean(as_picture(planes))


def _extent(points: np.ndarray) -> Box:
    (left, top), (right, bottom) = points.min(0), points.max(0)
    return Box(math.floor(left) - 1, math.floor(top) - 1, math.ceil(right) + 1, math.ceil(bottom) + 1)


@dataclass(frozen=True)
class LetteringNode:
    """matrix : outline units (ems) to output px."""

    art: object
    matrix: tuple[float, ...]
    key: str = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        edges = self.art.outline().placed(self.matrix)
        object.__setattr__(self, "key", key_of("lettering", self.art, self.matrix))
        object.__setattr__(self, "extent", _extent(edges.reshape(-1, 2)) if len(edges) else NOWHERE)

    def draw(self, reader, box):
        edges = self.art.outline().placed(self.matrix) - np.array([box.left, box.top] * 2, np.float64)
        return self.art.drawn(edges, box.width, box.height)


@dataclass(frozen=True)
class VectorNode:
    """matrix : the drawing's px, from its middle, to output px. Drawn in blocks of a coarse fixed grid."""

    art: object
    matrix: tuple[float, ...]
    key: str = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        a, b, c, d, e, f = self.matrix
        w, h = self.art.width / 2, self.art.height / 2
        corners = np.array([(a * x + c * y + e, b * x + d * y + f) for x in (-w, w) for y in (-h, h)])
        object.__setattr__(self, "key", key_of("vector", self.art.hash, self.matrix))
        object.__setattr__(self, "extent", _extent(corners))

    def draw(self, reader, box):
        column, row = box.left // BLOCK, box.top // BLOCK
        block = Box(column * BLOCK, row * BLOCK, (column + 1) * BLOCK, (row + 1) * BLOCK)
        part = block.met(self.extent)
        pixels = reader.once((self.key, "block", column, row), lambda: self._block(reader, part))
        found = cut(np.moveaxis(pixels, 2, 0), part, box)
        planes = found.astype(np.float32) / np.float32(255)
        planes[:3] *= planes[3]
        return planes

    def _block(self, reader, part: Box):
        a, b, c, d, e, f = self.matrix
        matrix = (a, b, c, d, e - part.left, f - part.top)
        return rasterised(reader.assets.data(self.art.hash), (self.art.width, self.art.height), matrix,
                          part.width, part.height)


@dataclass(frozen=True)
class StepNode:
    """One step of a treatment. whole : the box of the treated item, for what is measured over all of it."""

    step: object
    frame: Frame
    input: object
    beneath: object
    whole: Box
    key: str = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        kind = kind_named(self.step.kind)
        reads = (self.beneath.key, self.whole) if kind.reads_beneath else ()
        key = key_of("step", kind.kind, kind.rev, self.step.params, self.step.landing, self.step.seed,
                     self.frame, self.input.key, *reads)
        object.__setattr__(self, "key", key)
        object.__setattr__(self, "extent", self._extent_of(kind))

    def _extent_of(self, kind) -> Box:
        if kind.gives == "paint" and not getattr(self.step.params, "keep_to_art", True):
            return EVERYWHERE
        if self.input.extent in (EVERYWHERE, NOWHERE) or kind.gives in ("paint", "cover"):
            return self.input.extent
        return self.input.extent.grown(self.reach(kind))

    def reach(self, kind) -> int:
        moved = math.ceil(kind.shift(self.step.params, self.frame) * self.step.landing.strength)
        return kind.reach(self.step.params, self.frame) + (moved + 2 if kind.gives == "move" else 0)

    def draw(self, reader, box):
        view = StepView(reader, self, box)
        kind = kind_named(self.step.kind)
        result = kind.run(self.step.params, view)
        return view.input(0) if result is None else landed(result, self.step.landing, view)


@dataclass(frozen=True)
class Landed:
    """An item on what is beneath it."""

    canvas: object
    item: object
    landing: Landing
    key: str = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("landed", self.canvas.key, self.item.key, self.landing))
        object.__setattr__(self, "extent", self.canvas.extent.joined(self.item.extent))

    def draw(self, reader, box):
        canvas = reader.read(self.canvas, box)
        here = self.item.extent.met(box)
        if here.empty:
            return canvas
        part, item = cut(canvas, box, here), reader.read(self.item, here)
        for weight in passes(self.landing.strength):
            part = compose.paint(part, item, self.landing.mode, weight)
        out = canvas.copy()
        put(out, box, here, part)
        return out
