"""Cork: granules pressed together, each of its own brown, with dark flecks and gaps."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.cells import cells
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.strewn import strewn_pits
from kilncore.textures.makers.parts.tones import mix, ramp, soft_step, to_bytes

PALE = ((96, 62, 34), (160, 112, 66), (198, 152, 102), (226, 188, 142))
DARK = ((30, 18, 12), (62, 38, 22), (96, 62, 38), (130, 90, 58))


class CorkSettings(Model):
    """grain_px : of the large granules. dark : the share of dark ones. gaps : between. aged : how
    brown.
    """

    grain_px: float = setting(
        30, "Granules", "", "made_number", unit="px", soft=(8, 120), ge=5, le=600, step=1
    )
    dark: float = setting(0.3, "Dark ones", "", "share", ge=0, le=1)
    gaps: float = setting(0.35, "Gaps", "", "share", ge=0, le=1)
    aged: float = setting(0.3, "Aged", "How brown.", "share", ge=0, le=1)


@maker(
    "cork",
    title="Cork",
    good_for="a ground",
    settings=CorkSettings,
    group="Materials",
    starts={
        "Notice board": {},
        "Fine sheet": {"grain_px": 12.0, "dark": 0.18, "gaps": 0.15, "aged": 0.1},
        "Net float": {"grain_px": 62.0, "dark": 0.5, "gaps": 0.7, "aged": 0.7},
    },
    gives=("colour", "height"),
)
def cork(settings: CorkSettings, fields: Fields) -> Maps:
    """Pressed cork."""
    size = settings.grain_px
    bend = fields.sway(0.09 * size, 0.9 * size, 1.8, shortest=3)
    large, small = cells(fields, size, *bend), cells(fields, 0.4 * size, *bend)
    which = (fields.rng.random(large.xs.size) < 0.55)[large.number]
    apart = np.where(which, large.apart, np.minimum(small.apart, large.apart))
    tones = [one.of_each(fields.rng.standard_normal((2, one.xs.size))) for one in (large, small)]
    own = np.where(which, tones[0], tones[1])
    grain = fields.cloud(7, 0.9)
    pith = fields.band(6, 0.6, stretch=2.2)
    tone = 0.56 + 0.10 * own[0] + 0.05 * grain + 0.035 * pith + 0.03 * fields.swell(300, 1.5)
    tone -= 0.22 * settings.aged
    colour = ramp(tone, *PALE)
    flecks = soft_step(fields.band(0.3 * size, 0.6, stretch=2.4) + 0.3 * grain, 1.7, 2.4)
    dark = own[1] > 2.2 - 3.2 * settings.dark
    share = np.maximum(0.85 * dark * soft_step(apart, 0, 1.5), 0.7 * flecks)
    mix(colour, ramp(tone - 0.05, *DARK), share.astype(np.float32))
    gap = soft_step(0.055 * size * (0.3 + settings.gaps) - apart + 0.5 * grain, -0.8, 0.9)
    gap = np.maximum(
        gap * (0.35 + 0.65 * settings.gaps), strewn_pits(fields, 120 * settings.gaps + 4, 1, 6, 2.6)
    )
    relief = 0.09 * size * (1 - np.exp(-apart / np.float32(0.12 * size))) + 0.5 * own[0]
    relief = fields.blurred(relief + 0.5 * grain - 3 * gap, 0.7)
    light = np.tanh(0.6 * lit(fields, relief))
    colour *= (1 - 0.62 * gap) * (1 + 0.24 * light)
    return Maps(to_bytes(colour), height=to_bytes(as_heights(relief)))
