"""Starting a piece: a size in pixels, or in millimetres at a ppi; or a file, at its size."""

from django import forms

from kilncore.document import MAX_PIXELS, MAX_SIDE_PX, Ground, Mark, Piece, Placement
from kilncore.errors import KilnError
from kilncore.fills.colour import STOCK, ColourFill
from kilncore.fills.none import NoFill
from kilncore.fills.picture import PictureFill
from kilncore.model.units import mm_to_px, px

PRESETS = [
    ("2400 x 1600 px, screen", 2400, 1600, "px", 300),
    ("A5 flyer", 148, 210, "mm", 300),
    ("A4 sheet", 210, 297, "mm", 300),
    ("A3 poster", 297, 420, "mm", 300),
    ("Luggage label", 120, 60, "mm", 300),
    ("Square card", 1600, 1600, "px", 300),
]


class StartForm(forms.Form):
    title = forms.CharField(max_length=120, label="Title", initial="Untitled piece")
    width = forms.FloatField(min_value=1, max_value=MAX_SIDE_PX, label="Width", initial=2400)
    height = forms.FloatField(min_value=1, max_value=MAX_SIDE_PX, label="Height", initial=1600)
    unit = forms.ChoiceField(choices=[("px", "px"), ("mm", "mm")], label="Unit", initial="px")
    ppi = forms.FloatField(min_value=10, max_value=2400, label="ppi", initial=300)
    ground = forms.ChoiceField(
        choices=[("colour", "Plain stock"), ("none", "Nothing (transparent)")], label="Ground"
    )

    presets = PRESETS

    def size_px(self) -> tuple[int, int]:
        sides = self.cleaned_data["width"], self.cleaned_data["height"]
        if self.cleaned_data["unit"] == "mm":
            sides = tuple(mm_to_px(side, self.cleaned_data["ppi"]) for side in sides)
        return tuple(round(side) for side in sides)

    def clean(self):
        if self.errors:
            return self.cleaned_data
        width, height = self.size_px()
        if not (
            16 <= min(width, height)
            and max(width, height) <= MAX_SIDE_PX
            and width * height <= 200e6
        ):
            raise forms.ValidationError(
                f"That is {width} x {height} px. A piece has 16 to {MAX_SIDE_PX} px each way "
                "and 200 million at most."
            )
        return self.cleaned_data

    def document(self) -> Piece:
        fill = NoFill() if self.cleaned_data["ground"] == "none" else ColourFill(colour=STOCK)
        return Piece(
            title=self.cleaned_data["title"],
            size_px=self.size_px(),
            ppi=self.cleaned_data["ppi"],
            ground=Ground(fill=fill),
        )


PPI, CSS_PPI = 300, 96
LEAST_SIDE_PX = 16
PLACES = [
    ("auto", "As suits it: a photo as the ground, else a mark"),
    ("ground", "As the ground"),
    ("mark", "As a mark"),
]


class FromFileForm(forms.Form):
    """place : what the file becomes on the piece."""

    place = forms.ChoiceField(choices=PLACES, label="The file comes in", required=False)

    def asks(self, artwork) -> bool:
        """Whether it is left to Kilnmark what a file becomes, and that cannot be known."""
        return self.data.get("place", "auto") == "auto" and bool(artwork.unsure)

    def document_of(self, artwork) -> Piece:
        """A piece at the artwork's size: a picture's own px, a drawing's own size in print."""
        picture = artwork.kind == "picture"
        scale = PPI / CSS_PPI if artwork.kind == "vector" else 1.0
        size = tuple(max(round(side * scale), 1) for side in (artwork.width, artwork.height))
        if not picture:  # it is sharp at any size
            scale *= max(1.0, LEAST_SIDE_PX / min(size))
            size = tuple(round(side * scale) for side in (artwork.width, artwork.height))
        if max(size) > MAX_SIDE_PX or size[0] * size[1] > MAX_PIXELS or min(size) < LEAST_SIDE_PX:
            raise KilnError(
                f"That would be a piece of {size[0]} x {size[1]} px. A piece has {LEAST_SIDE_PX} "
                f"to {MAX_SIDE_PX} px each way and {MAX_PIXELS // 10**6} million at most."
            )
        return Piece(
            title=artwork.name, size_px=size, ppi=PPI, **self._filled(artwork, size, scale)
        )

    def _filled(self, artwork, size: tuple[int, int], scale: float) -> dict:
        place = self.data.get("place", "auto")
        solid = artwork.kind == "picture" and artwork.facts.get("opaque")
        photo = solid and not artwork.facts.get("plain")
        if artwork.kind == "picture" and (place == "ground" or place != "mark" and photo):
            settings = artwork.art.model_dump(exclude={"kind"})
            return {"ground": Ground(fill=PictureFill(**settings, fit="cover"))}
        middle = Placement(x=px(size[0] / 2), y=px(size[1] / 2), scale=scale)
        asked = place == "mark" and artwork.unsure
        art = artwork.knocked_out(artwork.unsure) if asked else artwork.begun
        mark = Mark(name=artwork.name, art=art, placement=middle)
        return {"ground": Ground(fill=ColourFill(colour=STOCK)), "stack": (mark,)}
