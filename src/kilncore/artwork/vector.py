"""Vector art: an SVG, made safe once when it comes in, drawn as placed in a limited child process.

Drawn in fixed blocks of the drawing's own grid, because one crop of a drawing equals that crop of
the whole only when the same grid is asked for every time, because memory stays bounded at any size,
and because a drawing that is only moved is then the same drawing.
"""

import json
from dataclasses import dataclass, field, replace
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, StringConstraints

from kilncore.artwork.base import Art, art
from kilncore.artwork.drawing import Drawing, extent_of, moved_apart
from kilncore.geometry.affine import MIRROR, Affine
from kilncore.geometry.box import Box, crop, put, tiles_over
from kilncore.graph.keys import key_of
from kilncore.graph.protocols import NodeReader
from kilncore.model.base import Model
from kilncore.model.files import ArtHash
from kilncore.model.setting import setting
from kilncore.pixels.colour import HexColour
from kilncore.svg.rasterising import rasterised

BLOCK = 2048
MOST_CHANGES = 100
Paint = Annotated[str, StringConstraints(pattern=r"^(#[0-9a-f]{6}|url\(#[^()'\"\s]{1,80}\))$")]
PHASES = 16  # of a pixel: finer places of a drawing are not told apart


class ColourChange(Model):
    """One colour of the drawing, and what it becomes."""

    old: HexColour
    new: HexColour


class Shown(Model):
    """Which parts of a drawing are shown; none named are all. paints : '#rrggbb' or 'url(#id)'.
    under : paints that hide these where they lie above them, without being shown. groups : numbers
    of groups.
    """

    paints: Annotated[tuple[Paint, ...], Field(max_length=MOST_CHANGES)] = ()
    under: Annotated[tuple[Paint, ...], Field(max_length=MOST_CHANGES)] = ()
    groups: Annotated[
        tuple[Annotated[int, Field(ge=0, lt=10_000)], ...], Field(max_length=200)
    ] = ()


@art("vector", title="Vector art", sentence="An SVG, drawn sharp at any size.")
class Vector(Art):
    """hash : of the sanitised SVG. width, height : its own size in px, as it is placed at 100 %."""

    kind: Literal["vector"] = "vector"
    hash: ArtHash
    width: float = Field(gt=0, le=1e5)
    height: float = Field(gt=0, le=1e5)
    recolour: Annotated[tuple[ColourChange, ...], Field(max_length=MOST_CHANGES)] = setting(
        (),
        "Colours",
        "In the proportions of the drawing. Choose one to replace it.",
        "bar",
        if_="!one_colour",
    )
    one_colour: bool = setting(False, "One colour over all", "", "toggle", reload=True)
    colour: HexColour = setting("#20262a", "Colour", "", "colour", if_="one_colour")
    shown: Shown = setting(Shown(), "Parts", "", "parts", reload=True)
    mirrored: bool = setting(False, "Mirrored", "Left and right change places.", "toggle")

    def box_px(self, ppi: float, piece_height: float) -> tuple[float, float]:
        """Its own size."""
        return self.width, self.height

    @property
    def changes(self) -> dict | None:
        """What a child is told of colours and parts, None where all is as in the file."""
        shown = self.shown
        changed = {
            "colours": {change.old: change.new for change in self.recolour},
            "over": self.colour if self.one_colour else None,
            "paints": list(shown.paints),
            "groups_": list(shown.groups),
            "under": list(shown.under) if shown.paints else [],
        }
        return changed if any(changed.values()) else None

    def drawing(self, placed: Affine, scale: float, ppi: float, piece_height: float) -> Drawing:
        """The file, drawn by child processes."""
        return VectorDrawing(self, (placed.of(MIRROR) if self.mirrored else placed).matrix, scale)


@dataclass(frozen=True)
class VectorDrawing(Drawing):
    """matrix : the drawing's px, from its middle, to output px. unit : output px per document px.

    Drawn in blocks of its own grid, which begins at its upper left: moved by whole pixels it is the
    same drawing, and is not drawn again.
    """

    art: Vector
    matrix: tuple[float, ...]
    unit: float = 1.0
    key: str = field(init=False)
    extent: Box = field(init=False)
    _own: tuple[float, ...] = field(init=False, compare=False, repr=False)
    _corner: tuple[int, int] = field(init=False, compare=False, repr=False)
    _own_extent: Box = field(init=False, compare=False, repr=False)
    _own_key: str = field(init=False, compare=False, repr=False)

    def __post_init__(self):
        a, b, c, d, e, f = self.matrix
        e, f = (round(n * PHASES) / PHASES for n in (e, f))
        w, h = self.art.width / 2, self.art.height / 2
        extent = extent_of(
            np.array([(a * x + c * y + e, b * x + d * y + f) for x in (-w, w) for y in (-h, h)])
        )
        own, corner = (a, b, c, d, e - extent.left, f - extent.top), (extent.left, extent.top)
        for name, value in (
            ("extent", extent),
            ("_own", own),
            ("_corner", corner),
            ("_own_extent", Box(0, 0, extent.width, extent.height)),
            (
                "_own_key",
                key_of("vector", self.art.hash, own, self.unit, json.dumps(self.art.changes)),
            ),
        ):
            object.__setattr__(self, name, value)
        object.__setattr__(self, "key", key_of(self._own_key, corner))

    def whole_px_from(self, other: Drawing) -> Drawing:
        """Drawn once, however far it is moved."""
        away = self.moved_from(other)
        if away is None or other.unit != self.unit:
            return self
        place = (self.matrix[n + 4] - away[n] + round(away[n]) for n in (0, 1))
        return replace(self, matrix=(*self.matrix[:4], *place))

    def moved_from(self, other: Drawing) -> tuple[float, float] | None:
        """Where nothing but its place differs."""
        return moved_apart(self, other)

    def lacking(self, reader: Any, box: Box) -> list[Box]:
        """The blocks behind a box that are not drawn yet."""
        return [block for block in self._blocks(box) if (self._own_key, block) not in reader.cache]

    def fetch(self, reader: NodeReader, part: Box) -> np.ndarray:
        """(H, W, 4) straight bytes of one block, drawn by a child process unless it is there."""
        return reader.once((self._own_key, part), lambda: self._block(reader, part))

    def _blocks(self, box: Box) -> list[Box]:
        left, top = self._corner
        here = box.intersection(self.extent).moved(-left, -top)
        return [block.intersection(self._own_extent) for block in tiles_over(here, (BLOCK, BLOCK))]

    def planes(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(4, H, W) premultiplied."""
        planes = np.empty((4, box.height, box.width), np.float32)
        for block in self._blocks(box):
            part = block.moved(*self._corner)
            here = part.intersection(box)
            put(planes, box, here, crop(np.moveaxis(self.fetch(reader, block), 2, 0), part, here))
        planes /= np.float32(255)
        planes[:3] *= planes[3]
        return planes

    def _block(self, reader: Any, block: Box):
        a, b, c, d, e, f = self._own
        matrix = (a, b, c, d, e - block.left, f - block.top)
        return rasterised(
            reader.assets.data(self.art.hash),
            (self.art.width, self.art.height),
            matrix,
            block.width,
            block.height,
            self.unit,
            self.art.changes,
        )
