"""Light: soft pools of colour, round or along a stroke, several to a mark.

Worn by a texture they glow through it; dark ones deepen it. Its frame starts in its middle, with
its height as its unit, and pools lie in it.
"""

import math
from dataclasses import dataclass, field
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from kilncore.artwork.base import Art, art
from kilncore.artwork.drawing import Drawing, extent_of
from kilncore.geometry.affine import Affine
from kilncore.geometry.box import NOWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.protocols import NodeReader
from kilncore.model.base import Id, Model, new_id
from kilncore.model.setting import percent, setting
from kilncore.model.units import Length
from kilncore.pixels.colour import HexColour, hex_to_rgb
from kilncore.pixels.dither import dithered
from kilncore.shapes.pools import FARTHEST, SHARPEST, disc, profile, stroke
from kilncore.strokes.curves import curve

MOST, MOST_POINTS, MOST_PLACES = 40, 20, 400
STROKE = "stroke"
Units = Annotated[float, Field(ge=-40, le=40)]
DITHER = 0x11E7
LEAST = 1e-3  # units, of a radius
Points = Annotated[tuple[tuple[Units, Units], ...], Field(min_length=2, max_length=MOST_POINTS)]
FIRST = ((0.0, 0.0), (0.35, 0.0), (0.0, 0.35))


class Pool(Model):
    """One pool. points : of an ellipse its middle, and the ends of its half axes across and down;
    of a stroke what its curve goes through; in units from the frame's middle. width : of a stroke,
    in units. blur : in shares of the radius, or of the stroke's width.
    """

    id: Id = Field(default_factory=new_id)
    form: Literal["ellipse", "stroke"] = "ellipse"
    points: Points = FIRST
    colour: HexColour = setting("#ffd9a0", "Colour", "", "colour")
    strength: float = percent(0.8, "Strength")
    blur: float = percent(0.5, "Blur", "Of its size.", 0, 3, soft=(0, 150))
    width: float = percent(0.12, "Width", "Of the height.", 0.001, 5, (0.5, 60), if_="form=stroke")

    @property
    def axes(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Of an ellipse: its middle and its half axes."""
        middle, across, *rest = np.array(self.points, np.float64)
        across = across - middle
        down = rest[0] - middle if rest else np.array([-across[1], across[0]])
        return middle, across, down


@art("light", title="Light", sentence="Soft pools of colour, lighter or darker.")
class LightArt(Art):
    """pools : the lowest first."""

    kind: Literal["light"] = "light"
    width: Length = setting(Length(value=70, unit="%"), "Width", "", "length", soft=(10, 4000))
    height: Length = setting(Length(value=70, unit="%"), "Height", "", "length", soft=(10, 4000))
    pools: Annotated[tuple[Pool, ...], Field(max_length=MOST)] = setting(
        (Pool(id="first"),), "Pools", "", "pools", reload=True
    )

    def box_px(self, ppi: float, piece_height: float) -> tuple[float, float]:
        """Its width and height; what shines may reach beyond."""
        sides = (one.in_px(ppi, piece_height) for one in (self.width, self.height))
        width, height = (max(one, 1.0) for one in sides)
        return width, height

    def drawing(self, placed: Affine, scale: float, ppi: float, piece_height: float) -> Drawing:
        """Its pools."""
        unit = self.box_px(ppi, piece_height)[1]
        return LightDrawing(self.pools, placed.of(Affine(unit, 0, 0, unit, 0, 0)))

    def notes(self) -> list[str]:
        """If nothing shows."""
        return [] if self.pools else ["It has no pools yet: nothing of it shows."]


@dataclass(frozen=True)
class LightDrawing(Drawing):
    """map : from units of the frame to output px."""

    pools: tuple[Pool, ...]
    map: Affine
    key: str = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        told = [one.model_dump(exclude={"id"}) for one in self.pools]
        there = NOWHERE
        for one in self.pools:
            there = there.union(_reach(one, self.map))
        object.__setattr__(self, "key", key_of("light", told, self.map))
        object.__setattr__(self, "extent", there)

    def moved_from(self, other: Drawing) -> tuple[float, float] | None:
        """Where nothing but its place differs."""
        if not isinstance(other, LightDrawing) or self.pools != other.pools:
            return None
        if self.map.matrix[:4] != other.map.matrix[:4]:
            return None
        return self.map.e - other.map.e, self.map.f - other.map.f

    def planes(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(4, H, W): one pool over the other."""
        out = np.zeros((4, box.height, box.width), np.float32)
        for one in self.pools:
            shines = shining(one, self.map, box) * np.float32(one.strength)
            out *= 1 - shines
            for plane, part in zip(out, (*hex_to_rgb(one.colour), 1.0), strict=True):
                plane += shines * np.float32(part)
        middle = round(self.map.e), round(self.map.f)
        return dithered(out, box.left - middle[0], box.top - middle[1], DITHER)


def shining(pool: Pool, placed: Affine, box: Box) -> np.ndarray:
    """(H, W) float32, 0..1: how much of a pool there is in a box. placed : from units to px."""
    size = box.width, box.height
    if pool.form == STROKE:
        half = pool.width / 2 * placed.scale
        way = _way(pool, placed) - [box.left, box.top]
        return stroke(way, half, pool.blur * 2 * half, size)
    return disc(*profile(pool.blur), _plane(pool, placed, box), size)


def _plane(pool: Pool, placed: Affine, box: Box) -> tuple[float, ...]:
    """From px of a box to the plane in which an ellipse is a disc of radius 1."""
    (x, y), across, down = pool.axes
    for axis in (across, down):
        long = math.hypot(*axis)
        if long < LEAST:
            axis += (LEAST, 0) if axis is across else (0, LEAST)
    if abs(across[0] * down[1] - across[1] * down[0]) < LEAST**2:
        down = np.array([-across[1], across[0]])
    (a, b), (c, d) = across.tolist(), down.tolist()
    own = placed.of(Affine(a, b, c, d, x, y))
    return own.inverse.of(Affine(1, 0, 0, 1, box.left, box.top)).matrix


def _way(pool: Pool, placed: Affine) -> np.ndarray:
    points = np.array(pool.points, np.float64)
    kept = np.concatenate([[True], np.hypot(*np.diff(points, axis=0).T) > LEAST])
    along = curve(points[kept], most=MOST_PLACES)
    return np.array([placed.point(x, y) for x, y in along.tolist()])


def _reach(pool: Pool, placed: Affine) -> Box:
    """The px in which there is any of a pool."""
    if pool.form == STROKE:
        far = pool.width * placed.scale * (0.5 + FARTHEST * pool.blur) + FARTHEST
        way = _way(pool, placed)
        return extent_of(np.concatenate([way - far, way + far]))
    (x, y), across, down = pool.axes
    far = 1 + FARTHEST * max(pool.blur, SHARPEST)
    corners = [
        placed.point(*(np.array([x, y]) + far * (i * across + j * down)))
        for i in (-1, 1)
        for j in (-1, 1)
    ]
    return extent_of(np.array(corners))
