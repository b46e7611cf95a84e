"""Felt: wool fibres pressed into a sheet, all ways, a few of them another colour."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.strewn import strewn_lines
from kilncore.textures.makers.parts.tones import mix, ramp, soft_step, to_bytes

WOOLS = {
    "grey": ("Grey", ((48, 48, 50), (104, 104, 106), (156, 156, 157)), (222, 220, 214)),
    "navy": ("Navy", ((14, 20, 36), (34, 46, 72), (70, 84, 112)), (150, 158, 172)),
    "red": ("Signal red", ((78, 14, 14), (152, 34, 30), (196, 72, 60)), (232, 150, 132)),
    "white": ("Undyed", ((150, 142, 126), (208, 201, 186), (238, 233, 222)), (120, 104, 84)),
}
CHOICES = tuple((name, told[0]) for name, told in WOOLS.items())


class FeltSettings(Model):
    """fibre_px : how long fibres are. woolly : how far they stand off. pilled : little balls.
    flecks : fibres of another colour.
    """

    wool: str = setting("grey", "Wool", "", "made_choice", choices=CHOICES)
    fibre_px: float = setting(
        52, "Fibres", "How long.", "made_number", unit="px", soft=(15, 200), ge=8, le=1000, step=1
    )
    woolly: float = setting(0.5, "Woolly", "", "share", ge=0, le=1)
    pilled: float = setting(0.3, "Pilled", "", "share", ge=0, le=1)
    flecks: float = setting(0.3, "Flecks", "Of another colour.", "share", ge=0, le=1)


@maker(
    "felt",
    title="Felt",
    good_for="a ground, or a map to follow",
    settings=FeltSettings,
    group="Paper and cloth",
    starts={
        "Deck blanket": {},
        "Cap badge": {
            "wool": "navy",
            "fibre_px": 30.0,
            "woolly": 0.25,
            "pilled": 0.1,
            "flecks": 0.05,
        },
        "Old underlay": {"wool": "white", "woolly": 0.9, "pilled": 0.8, "flecks": 1.0},
    },
    gives=("colour", "height"),
)
def felt(settings: FeltSettings, fields: Fields) -> Maps:
    """Pressed wool."""
    long = settings.fibre_px
    under = strewn_lines(fields, 5200, long, 0.75, bend=1.3)
    over = strewn_lines(fields, 1200 + 2600 * settings.woolly, 1.3 * long, 0.5, bend=1.2)
    other = strewn_lines(fields, 1 + 420 * settings.flecks, long, 0.6, bend=1.1)
    pills = soft_step(
        fields.band(15, 0.45) + 0.4 * fields.cloud(90, 1.4), 2.6 - settings.pilled, 3.2
    )
    pills = settings.pilled * fields.blurred(pills, 1.5)
    mat = fields.cloud(34, 1.2) + 0.5 * fields.band(5, 0.6)
    relief = 0.8 * under + 1.1 * over + 0.8 * mat + 5 * pills + 0.4 * other
    relief = fields.blurred(relief, 0.55)
    light = np.tanh(0.75 * lit(fields, relief))
    tone = 0.42 + 0.11 * under + 0.12 * over + 0.05 * mat + 0.15 * light + 0.08 * pills
    tone += 0.045 * fields.swell(300, 1.5) - 0.05
    stops, flecks = WOOLS[settings.wool][1:]
    colour = ramp(tone, *stops)
    fleck = np.stack([np.float32(v / 255) * (0.85 + 0.3 * light) for v in flecks])
    mix(colour, fleck, np.minimum(0.8 * other, 0.8))
    return Maps(to_bytes(colour), height=to_bytes(as_heights(relief)))
