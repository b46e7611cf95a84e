"""A mark that is drawn by hand: strokes with smooth or rough tips, in one colour.

Its strokes are files, as those of touch-up are, in a frame of their own whose origin and unit stay
what they are. Its box is as large as they reach: whoever adds a stroke says so anew (`bounds_of`).
"""

from dataclasses import dataclass, field
from typing import Annotated, Any, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from kilncore.artwork.base import Art, art
from kilncore.artwork.drawing import Drawing, extent_of, moved_apart
from kilncore.artwork.filling import ArtFill, art_fill
from kilncore.geometry.affine import Affine
from kilncore.geometry.box import Box, put, tiles_over
from kilncore.graph.keys import key_of
from kilncore.graph.protocols import Assets, NodeReader
from kilncore.model.files import StrokesHash
from kilncore.model.setting import setting
from kilncore.model.units import Length
from kilncore.pixels.colour import HexColour, hex_to_rgb
from kilncore.planes.strokes import TILE, weights_within
from kilncore.strokes import MOST_FILES

FARTHEST, LEAST = 240.0, 0.02  # units
EMPTY = (-0.3, -0.2, 0.3, 0.2)  # the box of one without strokes: left, top, right, bottom
Side = Annotated[float, Field(ge=-FARTHEST, le=FARTHEST)]


@art(
    "drawn",
    title="Drawn by hand",
    sentence="Strokes of a smooth or a rough tip, each of which can be taken back.",
)
class DrawnArt(Art):
    """size : the unit of its frame. left, top, right, bottom : its box, in units from the frame's
    origin. strokes : stroke files, in order.
    """

    kind: Literal["drawn"] = "drawn"
    fill: ArtFill = art_fill()
    colour: HexColour = setting("#20262a", "Colour", "", "colour", if_="!fill")
    size: Length = Length(value=100, unit="%")
    left: Side = EMPTY[0]
    top: Side = EMPTY[1]
    right: Side = EMPTY[2]
    bottom: Side = EMPTY[3]
    strokes: Annotated[tuple[StrokesHash, ...], Field(max_length=MOST_FILES)] = setting(
        (), "Strokes", "", "strokes"
    )

    @model_validator(mode="after")
    def _wide(self) -> Self:
        if self.right - self.left < LEAST / 2 or self.bottom - self.top < LEAST / 2:
            raise ValueError("what is drawn by hand has a box that is wide and tall")
        return self

    def unit_px(self, ppi: float, piece_height: float) -> float:
        """Document px per unit."""
        return max(self.size.in_px(ppi, piece_height), 0.01)

    @property
    def _middle(self) -> tuple[float, float]:
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2

    def box_px(self, ppi: float, piece_height: float) -> tuple[float, float]:
        """As far as its strokes reach."""
        unit = self.unit_px(ppi, piece_height)
        return (self.right - self.left) * unit, (self.bottom - self.top) * unit

    def frame_px(self, ppi: float, piece_height: float) -> tuple[float, float, float]:
        """Its strokes' own."""
        unit, (x, y) = self.unit_px(ppi, piece_height), self._middle
        return -x * unit, -y * unit, unit

    def middle_shift(self, earlier: Art, ppi: float, piece_height: float) -> tuple[float, float]:
        """What keeps its strokes in place when its box is another."""
        if not isinstance(earlier, DrawnArt):
            return 0.0, 0.0
        unit = self.unit_px(ppi, piece_height)
        (x, y), (x0, y0) = self._middle, earlier._middle
        return (x - x0) * unit, (y - y0) * unit

    def drawing(self, placed: Affine, scale: float, ppi: float, piece_height: float) -> Drawing:
        """Its strokes, as alpha."""
        unit, (x, y) = self.unit_px(ppi, piece_height), self._middle
        matrix = placed.of(Affine(unit, 0, 0, unit, -x * unit, -y * unit)).matrix
        return DrawnDrawing(self, matrix)


def bounds_of(files: list[str], assets: Assets) -> dict[str, float]:
    """The box of strokes: left, top, right, bottom, in units."""
    strokes = [one for name in files for one in assets.strokes(name)]
    if not strokes:
        return dict(zip(("left", "top", "right", "bottom"), EMPTY, strict=True))
    low = np.min([one.points.min(0) - one.reach for one in strokes], 0) - LEAST
    high = np.max([one.points.max(0) + one.reach for one in strokes], 0) + LEAST
    sides = np.clip(np.concatenate([low, high]), -FARTHEST, FARTHEST).round(4).tolist()
    return dict(zip(("left", "top", "right", "bottom"), sides, strict=True))


@dataclass(frozen=True)
class DrawnDrawing(Drawing):
    """matrix : units from the frame's origin to output px."""

    art: DrawnArt
    matrix: tuple[float, ...]
    key: str = field(init=False)
    extent: Box = field(init=False)
    tint: tuple[float, ...] = field(init=False)
    _own: tuple[float, ...] = field(init=False, compare=False, repr=False)

    def __post_init__(self):
        a, b, c, d, e, f = self.matrix
        art, placed = self.art, Affine(*self.matrix)
        corners = [placed.point(x, y) for x in (art.left, art.right) for y in (art.top, art.bottom)]
        ia, ib, ic, id_, ie, if_ = placed.inverse.matrix
        own = (ia, ib, ic, id_, ie + (ia + ic) / 2, if_ + (ib + id_) / 2)
        for name, value in (
            ("tint", tuple(float(one) for one in hex_to_rgb(art.colour))),
            ("key", key_of("drawn", art.strokes, art.colour, self.matrix)),
            ("extent", extent_of(np.array(corners))),
            ("_own", own),
        ):
            object.__setattr__(self, name, value)

    def moved_from(self, other: Drawing) -> tuple[float, float] | None:
        """Where nothing but its place differs."""
        return moved_apart(self, other)

    def planes(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(1, H, W) coverage: what strokes hide of nothing is what they draw."""
        out = np.empty((1, box.height, box.width), np.float32)
        files: Any = self.art.strokes
        for tile in tiles_over(box, TILE):
            part = tile.intersection(box)
            drawn = 1 - weights_within(files, self._own, part, reader.assets, reader.cache)
            put(out, box, part, drawn[None])
        return out
