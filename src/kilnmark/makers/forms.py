"""What is asked of a maker beside its own settings, which its model draws and checks."""

from django import forms

from kilncore.textures.makers.base import (
    LEAST_PPI,
    LEAST_PX,
    MAPS,
    MOST_PIXELS,
    MOST_PPI,
    MOST_PX,
    finer,
)

MOST_TRIAL_PX = 1024


class MakingForm(forms.Form):
    """What a made texture is called, how large it is, and which of its maps are kept."""

    name = forms.CharField(label="Name", max_length=80, required=False)
    width = forms.IntegerField(
        label="Width, px", min_value=LEAST_PX, max_value=MOST_PX, initial=2048
    )
    height = forms.IntegerField(
        label="Height, px", min_value=LEAST_PX, max_value=MOST_PX, initial=2048
    )
    ppi = forms.IntegerField(
        label="ppi", min_value=LEAST_PPI, max_value=MOST_PPI, initial=300, required=False
    )
    seed = forms.IntegerField(label="Seed", min_value=0, max_value=2**31 - 1)

    def clean_ppi(self):
        return self.cleaned_data["ppi"] or 300

    def clean(self):
        """Not more than can be made."""
        data = self.cleaned_data
        most = MOST_PIXELS // finer(data.get("ppi", 300)) ** 2
        if data.get("width", 0) * data.get("height", 0) > most:
            below = "" if most == MOST_PIXELS else " below 300 ppi"
            raise forms.ValidationError(
                f"A made texture has {most // 10**6} million px at most{below}."
            )
        return data


class TrialForm(forms.Form):
    """A small one, for looking. width, height : px that are made. shown : px of the longer side of
    the picture. on : tried on a mark as a wear's mask, a coat, or the map of a follow; or on a part
    of an own piece, in the place of the texture `of`.
    """

    seed = forms.IntegerField(min_value=0, max_value=2**31 - 1)
    ppi = forms.IntegerField(min_value=LEAST_PPI, max_value=MOST_PPI, required=False)
    width = forms.IntegerField(min_value=LEAST_PX, max_value=MOST_TRIAL_PX, required=False)
    height = forms.IntegerField(min_value=LEAST_PX, max_value=MOST_TRIAL_PX, required=False)
    shown = forms.IntegerField(min_value=32, max_value=900, required=False)
    map = forms.ChoiceField(choices=[(one, one) for one in MAPS], required=False)
    on = forms.ChoiceField(
        choices=[(one, one) for one in ("wear", "coat", "follow", "piece")], required=False
    )
    of = forms.UUIDField(required=False)
    piece = forms.UUIDField(required=False)
    part = forms.CharField(max_length=60, required=False)
