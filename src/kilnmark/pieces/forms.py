"""Starting a piece: a size in pixels, or in millimetres at a ppi."""

from django import forms

from kilncore.document import MAX_SIDE_PX, Ground, Piece
from kilncore.fills.colour import STOCK, ColourFill
from kilncore.fills.none import NoFill
from kilncore.model.units import mm_to_px

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
