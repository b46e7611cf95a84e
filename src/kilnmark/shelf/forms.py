"""Bringing a texture in, and making one."""

from django import forms

from kilnmark.shelf.models import Texture


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
