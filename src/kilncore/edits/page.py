"""The page itself: cropped or enlarged, made larger or smaller with all in it, turned by quarters,
another resolution.

What lies on the page goes along with a map from the old page to the new one: places by the map,
lengths by its scale. Lengths in mm stay so many mm where they come to the same px, and are put into
px otherwise as little as possible; lengths in % of the page become px.
"""

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from kilncore.artwork import Art
from kilncore.document import MAX_PIXELS, MAX_SIDE_PX, Group, Mark, Piece, Placement
from kilncore.edits.operation import operation
from kilncore.edits.tree import piece_of, turn
from kilncore.errors import KilnError
from kilncore.fills.gradient import GradientFill
from kilncore.fills.line import FARTHEST, Line
from kilncore.fills.picture import COVERING, PictureFill
from kilncore.geometry.affine import Affine
from kilncore.landing.limits.mark import MarkLimit
from kilncore.landing.limits.region import RegionLimit
from kilncore.landing.model import Fade
from kilncore.layout.layout import Layout
from kilncore.model.base import Model, new_id
from kilncore.model.surface_scale import SurfaceScale
from kilncore.model.texture import TexturePlacement
from kilncore.model.units import Length, px
from kilncore.prep.turn import Turn

LEAST_SIDE_PX = 16
LAID = {"cover": "mirror", "contain": "pixels"}  # as it lies on a page that is trimmed
Trim = Annotated[int, Field(ge=-MAX_SIDE_PX, le=MAX_SIDE_PX)]


@operation
def trim_piece(tree: Any, left: Trim = 0, top: Trim = 0, right: Trim = 0, bottom: Trim = 0):
    """So many px of room more at each side; fewer, where it is negative."""
    width, height = tree["size_px"]
    size = width + left + right, height + top + bottom
    _become(tree, Affine(1, 0, 0, 1, left, top), size, tree["ppi"])


@operation
def scale_piece(tree: Any, width: Annotated[int, Field(ge=1, le=MAX_SIDE_PX)]):
    """Made so wide, with all that is on it."""
    scale = width / tree["size_px"][0]
    size = width, max(1, round(tree["size_px"][1] * scale))
    _become(tree, Affine(scale, 0, 0, scale, 0, 0), size, tree["ppi"])


@operation
def set_ppi(tree: Any, ppi: Annotated[float, Field(ge=10, le=2400)], resample: bool = False):
    """Another resolution: with as many px as before, or as many mm (resampled)."""
    if not resample:
        return _become(tree, Affine(1, 0, 0, 1, 0, 0), tuple(tree["size_px"]), ppi)
    scale = ppi / tree["ppi"]
    size = tuple(max(1, round(side * scale)) for side in tree["size_px"])
    return _become(tree, Affine(scale, 0, 0, scale, 0, 0), size, ppi)


@operation
def turn_piece(tree: Any, quarters: Literal[1, 2, 3]):
    """Turned clockwise by quarters, with all that is on it."""
    width, height = tree["size_px"]
    way = {
        1: Affine(0, 1, -1, 0, height, 0),
        2: Affine(-1, 0, 0, -1, width, height),
        3: Affine(0, -1, 1, 0, 0, width),
    }[quarters]
    size = (width, height) if quarters == 2 else (height, width)
    _become(tree, way, size, tree["ppi"])


@operation
def measure_surface(
    tree: Any,
    px: Annotated[float, Field(ge=1, le=1e6)],
    mm: Annotated[float, Field(ge=0.01, le=1e8)],
):
    """So many px of the piece are so many mm on the surface that it shows; nothing is drawn
    otherwise by it.
    """
    tree["surface"] = SurfaceScale(px=px, mm=mm).model_dump(mode="json")


def _become(tree: dict, way: Affine, size: tuple[int, int], ppi: float) -> None:
    if min(size) < LEAST_SIDE_PX or max(size) > MAX_SIDE_PX or size[0] * size[1] > MAX_PIXELS:
        raise KilnError(
            f"That would be {size[0]} x {size[1]} px. A piece has {LEAST_SIDE_PX} to "
            f"{MAX_SIDE_PX:,} px each way and {MAX_PIXELS // 10**6} million at most. "
            "Nothing was changed."
        )
    piece = piece_of(tree)
    change = _Change(piece, way, size, ppi)
    fresh = piece.model_copy(
        update={
            "size_px": size,
            "ppi": ppi,
            "frame": change.page_frame(),
            "surface": change.surface(piece.surface),
            "ground": piece.ground.model_copy(
                update={
                    "fill": change.fill(piece.ground.fill),
                    "treatment": change.of(piece.ground.treatment),
                }
            ),
            "stack": tuple(change.item(item, on_page=True) for item in piece.stack),
            "treatment": change.of(piece.treatment),
        }
    )
    tree.clear()
    tree.update(fresh.model_dump(mode="json"))


class _Change:
    """way : from the old page to the new one."""

    def __init__(self, piece: Piece, way: Affine, size: tuple[int, int], ppi: float):
        self.piece, self.way, self.size, self.ppi = piece, way, size, ppi
        self.turn = math.degrees(way.rotation)
        self.quarters = round(self.turn / 90) % 4

    def page_frame(self):
        """Where the frame of the page has come to lie."""
        frame, (width, height) = Layout(self.piece).page_frame, self.size
        x, y = self.way.point(frame.x, frame.y)
        own = self.piece.frame
        return own.model_copy(
            update={
                "x": x - round(width / 2),
                "y": y - round(height / 2),
                "unit": frame.unit_px * self.way.scale / height,
                "quarters": (own.quarters + self.quarters) % 4,
            }
        )

    def surface(self, scale: SurfaceScale | None) -> SurfaceScale | None:
        """As large in the world as it was."""
        return scale and scale.model_copy(update={"px": scale.px * self.way.scale})

    def fill(self, fill: Any):
        """A ground's."""
        if isinstance(fill, GradientFill):
            line = fill.line and self._line(fill.line)
            return fill.model_copy(
                update={"angle_deg": turn(fill.angle_deg + self.turn), "line": line}
            )
        return self._picture(fill) if isinstance(fill, PictureFill) else self.of(fill)

    def _line(self, line: Line) -> Line:
        """On the new page where it lay on the old one."""
        (wide, tall), (width, height) = self.piece.size_px, self.size
        ends = [
            self.way.point((x + 0.5) * wide, (y + 0.5) * tall)
            for x, y in ((line.x0, line.y0), (line.x1, line.y1))
        ]
        (x0, y0), (x1, y1) = ((x / width - 0.5, y / height - 0.5) for x, y in ends)
        far = max(map(abs, (x0, y0, x1, y1))) / FARTHEST
        return Line(x0=x0, y0=y0, x1=x1, y1=y1) if far <= 1 else line

    def _picture(self, fill: PictureFill):
        """A picture that covered the page lies on as it did, cropped with it."""
        scale, chain = fill.scale * self.way.scale, fill.chain
        fit: Any = fill.fit
        if fit in COVERING and self._trimmed and self._centred:
            width, height = self.piece.size_px
            scale, fit = fill.scale_on(width + 1, height), LAID[fit]
        if self.quarters:
            quarters: Any = str(self.quarters)
            chain = (*chain, Turn(id=new_id(), quarters=quarters))
        scale = min(max(scale, 0.001), 1000)
        return fill.model_copy(update={"scale": scale, "fit": fit, "chain": chain})

    @property
    def _trimmed(self) -> bool:
        """Whether the page was cropped or enlarged, and nothing else."""
        plain = self.way.scale == 1 and not self.quarters
        return plain and (self._resized or self.way.point(0, 0) != (0, 0))

    @property
    def _resized(self) -> bool:
        return tuple(self.piece.size_px) != tuple(self.size)

    @property
    def _centred(self) -> bool:
        """Whether the frame of the page lies in its middle, where what covers it does."""
        return (self.piece.frame.x, self.piece.frame.y) == (0, 0)

    def item(self, item: Mark | Group, on_page: bool = False):
        """A mark or group, with all that is in it. on_page : its place is counted on the page, not
        in a group.
        """
        place = self._on_page(item.placement) if on_page else self._in_group(item.placement)
        changed = {
            "placement": place,
            "treatment": self.of(item.treatment),
            "landing": self.of(item.landing),
        }
        if isinstance(item, Group):
            changed["members"] = tuple(self.item(member) for member in item.members)
        else:
            changed["art"] = item.art.model_copy(update=self._of_art(item.art))
        return item.model_copy(update=changed)

    def _of_art(self, art: Art) -> dict:
        """Its own lengths as many px as before, and what fills it as large on it."""
        own = {name: one for name, one in art.__dict__.items() if isinstance(one, Length)}
        lengths = {name: self._same_px(one) for name, one in own.items()}
        fill = getattr(art, "fill", None)
        return lengths if fill is None else {**lengths, "fill": self.of(fill)}

    def _on_page(self, place: Placement) -> Placement:
        x, y = self._point(place.x, place.y)
        rotation = turn(place.rotation_deg + self.turn)
        scale = place.scale * self.way.scale
        perspective = self.of(place.perspective)
        return Placement(x=x, y=y, scale=scale, rotation_deg=rotation, perspective=perspective)

    def _in_group(self, place: Placement) -> Placement:
        x, y = self._same_px(place.x), self._same_px(place.y)
        return place.model_copy(update={"x": x, "y": y, "perspective": self.of(place.perspective)})

    def of(self, value: Any):
        """Lengths, places and textures within treatments and landings, however deep."""
        if isinstance(value, tuple):
            return tuple(self.of(one) for one in value)
        if isinstance(value, Length):
            return self._length(value)
        if not isinstance(value, Model):
            return value
        scaled = {name: self.of(inner) for name, inner in value.__dict__.items()}
        return value.model_copy(update={**scaled, **self._special(value)})

    def _special(self, value: Model) -> dict:
        """What of a model is not a length of its frame."""
        if isinstance(value, TexturePlacement):
            return {"scale": min(max(value.scale * self.way.scale, 0.02), 50)}
        if isinstance(value, Fade):
            (x0, y0), (x1, y1) = self._point(value.x0, value.y0), self._point(value.x1, value.y1)
            return {"x0": x0, "y0": y0, "x1": x1, "y1": y1}
        if isinstance(value, MarkLimit):
            return {"feather": self._page_length(value.feather)}
        if isinstance(value, RegionLimit):
            x, y = self._point(value.x, value.y)
            names = ("width", "height", "feather")
            lengths = {name: self._page_length(getattr(value, name)) for name in names}
            rotation = turn(value.rotation_deg + self.turn)
            return {"x": x, "y": y, "rotation_deg": rotation, **lengths}
        return {}

    def _length(self, length: Length) -> Length:
        """Of an item's frame, which grows along: % stays."""
        if length.unit == "%":
            return length
        factor = self.way.scale * (self.piece.ppi / self.ppi if length.unit == "mm" else 1)
        return length.model_copy(update={"value": length.value * factor})

    def _page_length(self, length: Length) -> Length:
        """Of the page: % become px."""
        return self._length(px(self._in_px(length)) if length.unit == "%" else length)

    def _same_px(self, length: Length) -> Length:
        """Of what is made larger by the item it is in: as many px as before."""
        if length.unit == "mm":
            return length.model_copy(update={"value": length.value * self.piece.ppi / self.ppi})
        return px(self._in_px(length)) if length.unit == "%" and self._resized else length

    def _point(self, x: Length, y: Length) -> tuple[Length, Length]:
        across, down = self.way.point(self._in_px(x), self._in_px(y))
        return px(across), px(down)

    def _in_px(self, length: Length) -> float:
        return length.in_px(self.piece.ppi, self.piece.size_px[1])
