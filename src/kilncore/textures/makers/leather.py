"""Leather: pebbles of grain parted by furrows, creased where it bent, rubbed where it was held."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.cells import cells
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.strewn import strewn_lines, strewn_pits
from kilncore.textures.makers.parts.tones import mix, ramp, soft_step, to_bytes

HIDES = {
    "brown": ("Brown", ((34, 20, 14), (84, 52, 34), (126, 84, 56), (172, 128, 92))),
    "black": ("Black", ((12, 12, 13), (30, 30, 32), (56, 56, 58), (104, 103, 102))),
    "oxblood": ("Oxblood", ((36, 12, 14), (84, 28, 28), (122, 48, 44), (170, 92, 82))),
    "tan": ("Tan", ((92, 58, 30), (152, 104, 60), (188, 142, 94), (220, 184, 140))),
}
CHOICES = tuple((name, told[0]) for name, told in HIDES.items())


class LeatherSettings(Model):
    """pebble_px : of the grain. deep : its furrows. creased : where it bent. rubbed : how far its
    tops are.
    """

    hide: str = setting("brown", "Colour", "", "made_choice", choices=CHOICES)
    pebble_px: float = setting(
        14, "Grain", "", "made_number", unit="px", soft=(6, 60), ge=4, le=400, step=0.5
    )
    deep: float = setting(0.5, "Deep", "", "share", ge=0, le=1)
    creased: float = setting(0.4, "Creased", "", "share", ge=0, le=1)
    rubbed: float = setting(0.35, "Rubbed", "", "share", ge=0, le=1)


@maker(
    "leather",
    title="Leather",
    good_for="a ground, or a surface to follow",
    settings=LeatherSettings,
    group="Materials",
    starts={
        "Purser's bag": {},
        "Smooth tan": {"hide": "tan", "pebble_px": 8.0, "deep": 0.2, "creased": 0.6, "rubbed": 0.2},
        "Old strap": {
            "hide": "black",
            "pebble_px": 20.0,
            "deep": 0.7,
            "rubbed": 0.9,
            "creased": 0.8,
        },
    },
    gives=("colour", "worn", "height"),
)
def leather(settings: LeatherSettings, fields: Fields) -> Maps:
    """A tanned hide."""
    size = settings.pebble_px
    bend = fields.sway(0.16 * size, 1.6 * size, 1.7, shortest=2)
    found = cells(fields, size, *bend)
    count = found.xs.size
    own = found.of_each(fields.rng.standard_normal((2, count)))
    fine = cells(fields, 0.45 * size, *bend)
    dome = 1 - np.exp(-found.apart / np.float32(0.17 * size))
    small = 1 - np.exp(-fine.apart / np.float32(0.10 * size))
    split = soft_step(own[1] + 0.6 * fields.swell(120, 1.5), 0.2, 1.2)
    height = dome * (1 - 0.35 * split * (1 - small))
    folds = strewn_lines(fields, 20 + 190 * settings.creased, 120, 1.3, 0.9, 0.5, bend=0.9)
    folds = fields.blurred(folds, 1.0) * settings.creased
    pores = strewn_pits(fields, 700, 0.7, 2.2, 2.8)
    relief = 0.34 * size * (0.3 + settings.deep) * height - 3.2 * folds - 1.0 * pores
    relief += 0.25 * fields.cloud(60, 1.7) + 0.10 * fields.band(3, 0.5) + 0.25 * own[0] * dome
    relief = fields.blurred(relief, 0.7)
    light = np.tanh(0.75 * lit(fields, relief))
    tone = 0.36 + 0.34 * settings.deep * (height - 0.6) + 0.03 * own[0]
    tone += 0.06 * fields.swell(300, 1.6) + 0.02 * fields.cloud(20, 1.0) - 0.16 * folds
    tone = tone * (1 - 0.4 * pores) + 0.20 * light + 0.16 * np.maximum(light - 0.35, 0)
    del bend, found, fine, own, dome, small, split  # room for colours
    colour = ramp(tone, *HIDES[settings.hide][1])
    top = height + 0.30 * fields.swell(220, 1.5) + 0.14 * fields.cloud(14, 1.1)
    top += 0.35 * np.exp(-8 * np.abs(folds - 0.12))
    low = 1.7 - 1.3 * settings.rubbed
    bare = settings.rubbed * soft_step(top, low, low + 0.9)
    pale = [np.float32(v / 255) for v in HIDES[settings.hide][1][3]]
    mix(colour, np.stack([p * (0.78 + 0.25 * light) for p in pale]), 0.75 * bare)
    return Maps(to_bytes(colour), to_bytes(1 - bare), to_bytes(as_heights(relief)))
