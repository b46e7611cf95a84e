"""Bringing a texture in, and making one."""

from django import forms

from kilncore.textures.makers.base import LEAST_PX, MOST_PX

SIZES = [(1024, "1024 px"), (2048, "2048 px"), (3072, "3072 px"), (4096, "4096 px")]


class UploadForm(forms.Form):
    file = forms.FileField(label="PNG or JPEG picture", widget=forms.FileInput(attrs={"accept": "image/png,image/jpeg"}))
    credit = forms.CharField(label="Whose it is", max_length=120, required=False)
    licence = forms.CharField(label="Licence", max_length=120, required=False)


class MakerForm(forms.Form):
    """The knobs of a maker, drawn from its parameters model."""

    name = forms.CharField(label="Name", max_length=80, required=False)
    width = forms.IntegerField(label="Width, px", min_value=LEAST_PX, max_value=MOST_PX, initial=2048)
    height = forms.IntegerField(label="Height, px", min_value=LEAST_PX, max_value=MOST_PX, initial=2048)
    seed = forms.IntegerField(label="Seed", min_value=0, max_value=2**31 - 1)

    def __init__(self, maker, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.knob_names = list(maker.params.model_fields)
        for name, field in maker.params.model_fields.items():
            self.fields[name] = _knob(field)

    def asked(self) -> dict:
        data = self.cleaned_data
        return {"name": data["name"], "width": data["width"], "height": data["height"], "seed": data["seed"],
                "settings": {name: data[name] for name in self.knob_names}}

    def clean(self):
        data = self.cleaned_data
        if data.get("width", 0) * data.get("height", 0) > 40_000_000:
            raise forms.ValidationError("A made texture has 40 million px at most.")
        return data

    @property
    def knobs(self):
        return [self[name] for name in self.knob_names]

    @property
    def frame(self):
        return [self[name] for name in ("name", "width", "height", "seed")]


def _knob(field) -> forms.Field:
    """A slider for a share of 0..1, a number for a count."""
    bounds = {}
    for rule in field.metadata:
        bounds |= {"min_value": getattr(rule, "ge", bounds.get("min_value")), "max_value": getattr(rule, "le", bounds.get("max_value"))}
    if field.annotation is int:
        return forms.IntegerField(label=field.title, help_text=field.description, initial=field.default, **bounds)
    slider = forms.NumberInput(attrs={"type": "range", "step": "0.01", "class": "form-range"})
    return forms.FloatField(label=field.title, help_text=field.description, initial=field.default, widget=slider, **bounds)
