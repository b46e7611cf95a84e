"""Bringing a texture in, and making one."""

from django import forms

from kilncore.textures.makers.base import LEAST_PX, MOST_PIXELS, MOST_PX
from kilnmark.shelf.models import Texture

SIZES = [(1024, "1024 px"), (2048, "2048 px"), (3072, "3072 px"), (4096, "4096 px")]


class UploadForm(forms.Form):
    file = forms.FileField(
        label="Picture",
        widget=forms.FileInput(
            attrs={"accept": ".svg,.png,.jpg,.jpeg,.webp,.tif,.tiff,.avif,.gif,image/*"}
        ),
    )
    credit = forms.CharField(label="Whose it is", max_length=120, required=False)
    licence = forms.CharField(label="Licence", max_length=120, required=False)
    source = forms.CharField(label="Where it is from", max_length=200, required=False)
    owed = forms.BooleanField(label="Credit is owed", required=False)
    tags = forms.CharField(label="Tags", max_length=200, required=False)


class ToldForm(forms.ModelForm):
    """What its owner says of a texture."""

    class Meta:
        model = Texture
        fields = ["name", "credit", "licence", "source", "owed", "tags"]


class MakingForm(forms.Form):
    """What a made texture is called and how large it is. Its settings are drawn and checked by the
    maker's own model.
    """

    name = forms.CharField(label="Name", max_length=80, required=False)
    width = forms.IntegerField(
        label="Width, px", min_value=LEAST_PX, max_value=MOST_PX, initial=2048
    )
    height = forms.IntegerField(
        label="Height, px", min_value=LEAST_PX, max_value=MOST_PX, initial=2048
    )
    seed = forms.IntegerField(label="Seed", min_value=0, max_value=2**31 - 1)

    def clean(self):
        """Not more than can be made."""
        data = self.cleaned_data
        if data.get("width", 0) * data.get("height", 0) > MOST_PIXELS:
            raise forms.ValidationError(
                f"A made texture has {MOST_PIXELS // 10**6} million px at most."
            )
        return data
