"""Plain shapes: filled and outlined, each in its own colour.

Its frame starts in its middle, with its height as its unit.
"""

from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np

from kilncore.artwork.base import Art, art
from kilncore.artwork.coverage import Placed
from kilncore.artwork.drawing import Drawing, extent_of, moved_apart
from kilncore.geometry.affine import Affine
from kilncore.geometry.box import NOWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.protocols import NodeReader
from kilncore.model.setting import percent, setting
from kilncore.model.units import Length
from kilncore.perspective.projection import Projection
from kilncore.pixels.colour import HexColour, hex_to_rgb
from kilncore.shapes.forms import FORMS, Measures
from kilncore.shapes.outlined import Rimmed, rimmed
from kilncore.typesetting.outline import Outline

LEAST = 0.5  # px, of a side
NO_RIM = "none"
SIDES = ((NO_RIM, "None"), ("inside", "Inside"), ("middle", "Middle"), ("outside", "Outside"))
TITLES = tuple((name, title) for name, (title, _) in FORMS.items())
FormName: Any = Literal[tuple(FORMS)]
NOTHING = "It is neither filled nor outlined: nothing of it shows."


@art("shape", title="Shape", sentence="A plain shape, filled, outlined, or both.")
class Shape(Art):
    """form : of FORMS. What a form does not go by is kept for others."""

    kind: Literal["shape"] = "shape"
    form: FormName = setting("rectangle", "Form", "", "choice", choices=TITLES, reload=True)
    width: Length = setting(Length(value=60, unit="%"), "Width", "", "length", soft=(10, 2000))
    height: Length = setting(Length(value=40, unit="%"), "Height", "", "length", soft=(10, 2000))
    corner: Length = setting(
        Length(value=0, unit="px"), "Corners, round", "Their radius.", "length", soft=(0, 200),
        if_="form=rectangle,line",
    )  # fmt: skip
    hole: float = percent(0.7, "Hole", "Of its width.", 0.01, 0.99, if_="form=ring")
    points: int = setting(
        24, "Points", "", "slider", soft=(3, 60), step=1, ge=3, le=240, if_="form=badge,polygon"
    )
    depth: float = percent(0.1, "Depth", "Of the points.", 0, 0.95, if_="form=badge")
    roundness: float = percent(0, "Roundness", "Of the points.", if_="form=badge,polygon")
    tails: float = percent(0.14, "Tails", "Of the width, each.", 0.02, 0.4, if_="form=banner")
    rise: float = percent(0.5, "Round top", "Of its height.", 0.01, 1, if_="form=arch")
    filled: bool = setting(True, "Filled", "", "toggle", reload=True)
    colour: HexColour = setting("#20262a", "Colour", "Of the fill.", "colour", if_="filled")
    outlined: Literal["none", "inside", "middle", "outside"] = setting(
        NO_RIM, "Outline", "Where it lies.", "choice", choices=SIDES, reload=True
    )
    rim: Length = setting(
        Length(value=12, unit="px"), "Line width", "", "length", soft=(0, 80),
        if_="outlined=inside,middle,outside",
    )  # fmt: skip
    rim_colour: HexColour = setting(
        "#b23a1c", "Line colour", "", "colour", if_="outlined=inside,middle,outside"
    )

    def box_px(self, ppi: float, piece_height: float) -> tuple[float, float]:
        """Its width and height, without an outline that lies around it."""
        sides = (one.in_px(ppi, piece_height) for one in (self.width, self.height))
        width, height = (max(one, LEAST) for one in sides)
        return width, height

    def outline(self, ppi: float, piece_height: float) -> Rimmed:
        """Its edges in document px."""
        wide, tall = self.box_px(ppi, piece_height)
        measures = Measures(
            wide,
            tall,
            self.corner.in_px(ppi, piece_height),
            self.hole,
            self.points,
            self.depth,
            self.roundness,
            self.tails,
            self.rise,
        )
        rim = 0.0 if self.outlined == NO_RIM else max(self.rim.in_px(ppi, piece_height), 0.0)
        return rimmed(self.form, measures, self.outlined, rim)

    def drawing(self, placed: Affine, scale: float, ppi: float, piece_height: float) -> Drawing:
        """Its outlines, filled."""
        return ShapeDrawing(self, self.outline(ppi, piece_height), placed.matrix)

    def laid(
        self,
        placed: Affine,
        projection: Projection,
        scale: float,
        ppi: float,
        piece_height: float,
    ) -> Drawing:
        """Its outlines laid, point by point, and filled."""
        return ShapeDrawing(self, self.outline(ppi, piece_height), placed.matrix, projection)

    def notes(self) -> list[str]:
        """If nothing shows."""
        return [] if self.filled or self.outlined != NO_RIM else [NOTHING]


@dataclass(frozen=True)
class ShapeDrawing(Drawing):
    """matrix : document px from its middle to output px, flat where there is a projection."""

    art: Shape
    shape: Rimmed = field(compare=False)
    matrix: tuple[float, ...]
    projection: Projection | None = None
    key: str = field(init=False)
    extent: Box = field(init=False)
    tint: tuple[float, ...] | None = field(init=False)

    def __post_init__(self):
        edges = self._placed(self.shape.whole)
        parts = self._parts
        there = extent_of(edges.reshape(-1, 2)) if parts and len(edges) else NOWHERE
        told = self.art.model_dump_json(), self.shape.whole.tobytes(), self.matrix, self.projection
        for name, value in (
            ("tint", _rgb(parts[0][1]) if len(parts) == 1 else (0.0,) * 3 if not parts else None),
            ("key", key_of("shape", *told)),
            ("extent", there),
        ):
            object.__setattr__(self, name, value)

    @property
    def _parts(self) -> list[tuple[np.ndarray, str]]:
        """(edges, colour), the lowest first: beneath a fill the rim goes all through, so that
        nothing shows between them."""
        art, rim = self.art, self.art.outlined != NO_RIM and len(self.shape.rim) > 0
        if not art.filled:
            return [(self.shape.rim, art.rim_colour)] if rim else []
        if not rim:
            return [(self.shape.inner, art.colour)]
        return [(self.shape.whole, art.rim_colour), (self.shape.inner, art.colour)]

    def moved_from(self, other: Drawing) -> tuple[float, float] | None:
        """Where nothing but its place on the flat page differs."""
        if self.projection or getattr(other, "projection", None):
            return None
        same = isinstance(other, ShapeDrawing) and other.shape is self.shape
        return moved_apart(self, other) if same else None

    def planes(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(1, H, W) coverage, or (4, H, W) where it has two colours."""
        parts = self._parts
        seen = self.projection.seen(box) if self.projection else np.float32(1)
        found = [self._filled(reader, n, box) * seen for n in range(len(parts))]
        if len(parts) < 2:
            return (found[0] if found else np.zeros((box.height, box.width), np.float32))[None]
        (beneath, over), (rim, fill) = found, (_rgb(colour) for _, colour in parts)
        left = beneath * (1 - over)
        rows = [over * np.float32(b) + left * np.float32(a) for a, b in zip(rim, fill, strict=True)]
        return np.stack([*rows, over + left])

    def _filled(self, reader: NodeReader, number: int, box: Box) -> np.ndarray:
        """(H, W) of one of its parts."""
        make = lambda: Placed(self._placed(self._parts[number][0]))  # noqa: E731
        return reader.once((self.key, number), make).within(box)

    def _placed(self, edges: np.ndarray) -> np.ndarray:
        """In output px."""
        placed = Outline(edges, 0, 0).placed(self.matrix)
        return self.projection.edges(placed) if self.projection else placed


def _rgb(colour: str) -> tuple[float, ...]:
    return tuple(float(one) for one in hex_to_rgb(colour))
