"""Vector art: an SVG, made safe once when it comes in, drawn by limited child processes."""

import json
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, StringConstraints

from kilncore.artwork.base import Art, art
from kilncore.artwork.blocks import BlockDrawing
from kilncore.artwork.drawing import Drawing
from kilncore.geometry.affine import MIRROR, Affine
from kilncore.model.base import Model
from kilncore.model.files import ArtHash
from kilncore.model.setting import setting
from kilncore.pixels.colour import HexColour
from kilncore.svg.rasterising import rasterised

MOST_CHANGES = 100
Paint = Annotated[str, StringConstraints(pattern=r"^(#[0-9a-f]{6}|url\(#[^()'\"\s]{1,80}\))$")]


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
        return BlockDrawing(self, (placed.of(MIRROR) if self.mirrored else placed).matrix, scale)

    @property
    def told(self) -> tuple:
        """All that its pixels depend on."""
        return self.hash, json.dumps(self.changes)

    def block(
        self, data: bytes, matrix: tuple[float, ...], width: int, height: int, unit: float
    ) -> np.ndarray:
        """(height, width, 4) straight bytes."""
        return rasterised(
            data, (self.width, self.height), matrix, width, height, unit, self.changes
        )
