"""Plain shapes: filled and outlined, each in its own colour.

Its frame starts in its middle, with its height as its unit.
"""

from typing import Any, Literal

from kilncore.artwork.base import Art, art
from kilncore.artwork.drawing import Drawing
from kilncore.artwork.filling import ArtFill, art_fill
from kilncore.artwork.inked import Ink, InkedDrawing
from kilncore.geometry.affine import Affine
from kilncore.graph.keys import key_of
from kilncore.model.setting import percent, setting
from kilncore.model.units import Length
from kilncore.perspective.projection import Projection
from kilncore.pixels.colour import HexColour
from kilncore.shapes.forms import FORMS, Measures
from kilncore.shapes.outlined import Rimmed, rimmed

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
    fill: ArtFill = art_fill(if_="filled")
    colour: HexColour = setting("#20262a", "Colour", "Of the fill.", "colour", if_="filled&!fill")
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
        return self._inked(placed, ppi, piece_height, None)

    def laid(
        self,
        placed: Affine,
        projection: Projection,
        scale: float,
        ppi: float,
        piece_height: float,
    ) -> Drawing:
        """Its outlines laid, point by point, and filled."""
        return self._inked(placed, ppi, piece_height, projection)

    def _inked(
        self, placed: Affine, ppi: float, piece_height: float, projection: Projection | None
    ) -> Drawing:
        shape = self.outline(ppi, piece_height)
        told = key_of("shape", self.form, shape.whole.tobytes(), shape.inner.tobytes())
        inks, body = self._inks(shape)
        return InkedDrawing(told, inks, placed.matrix, projection, body)

    def _inks(self, shape: Rimmed) -> tuple[tuple[Ink, ...], int | None]:
        """(its inks, which of them is the body): beneath the body the rim goes all through, so that
        nothing shows between them.
        """
        rim = self.outlined != NO_RIM and len(shape.rim) > 0
        if not self.filled:
            return ((Ink(shape.rim, self.rim_colour),) if rim else ()), None
        body = Ink(shape.inner, self.colour)
        return ((Ink(shape.whole, self.rim_colour), body), 1) if rim else ((body,), 0)

    def notes(self) -> list[str]:
        """If nothing shows."""
        return [] if self.filled or self.outlined != NO_RIM else [NOTHING]
