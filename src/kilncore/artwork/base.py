"""What an art kind is, and how one is added.

An art kind is one module: a frozen settings model with its `kind` that says how large it is
(`box_px`), where its frame lies (`frame_px`), and gives a `Drawing` of itself under a map. Register
it with `@art(...)` and name the module in `artwork/__init__.py`. Its form is drawn from its
settings.
"""

from dataclasses import dataclass

from kilncore.artwork.drawing import Drawing
from kilncore.artwork.laid import laid_drawing
from kilncore.geometry.affine import Affine
from kilncore.model.base import Model
from kilncore.model.registry import Registry
from kilncore.perspective.projection import Projection


class Art(Model):
    """The settings of an art kind. Lengths are in document px before placement; `piece_height` is
    what % is of.
    """

    kind: str

    def box_px(self, ppi: float, piece_height: float) -> tuple[float, float]:
        """Width and height of its box."""
        raise NotImplementedError

    def frame_px(self, ppi: float, piece_height: float) -> tuple[float, float, float]:
        """The origin of its frame from the middle of its box, and the frame's unit: its middle and
        its height.
        """
        return 0.0, 0.0, self.box_px(ppi, piece_height)[1]

    def frame_shift(self, earlier: "Art") -> tuple[float, float]:
        """By how many units the frame must move so that what an edit of `earlier` left of it keeps
        its wear.
        """
        return 0.0, 0.0

    def middle_shift(self, earlier: "Art", ppi: float, piece_height: float) -> tuple[float, float]:
        """By how many px of its own an edit of `earlier` moved the middle of its box, so that what
        is left of it stays where it lies.
        """
        return 0.0, 0.0

    def kept_shift(self, earlier: "Art", ppi: float, piece_height: float) -> tuple | None:
        """By how many px of its own what is left of `earlier` has moved from the middle: edits let
        it move by whole px of the piece, so that its wear is the same to the bit. None if nothing
        has to be.
        """
        return None

    def check(self) -> None:
        """KilnError if it cannot be drawn."""

    def drawing(self, placed: Affine, scale: float, ppi: float, piece_height: float) -> Drawing:
        """Itself, drawn. placed : document px from the middle of its box to output px. scale :
        output px per document px.
        """
        raise NotImplementedError

    def laid(
        self,
        placed: Affine,
        projection: Projection,
        scale: float,
        ppi: float,
        piece_height: float,
    ) -> Drawing:
        """Itself in perspective, drawn. projection : from output px where it would lie flat to
        output px. The rest is as of `drawing`.
        """

        def draw(size: float) -> Drawing:
            unit = scale * size / placed.scale
            return self.drawing(Affine(size, 0, 0, size, 0, 0), unit, ppi, piece_height)

        return laid_drawing(draw, placed, projection)

    def notes(self) -> list[str]:
        """What of it cannot be shown as it is, in words."""
        return []


@dataclass(frozen=True)
class ArtKind:
    """title, sentence : of its sheet."""

    name: str
    title: str
    sentence: str
    settings: type[Art]

    @property
    def begins(self) -> bool:
        """Whether one can be begun with nothing but its defaults, without words or a file."""
        return not any(field.is_required() for field in self.settings.model_fields.values())


ARTS = Registry("art")
art = ARTS.decorator(ArtKind, "settings")
