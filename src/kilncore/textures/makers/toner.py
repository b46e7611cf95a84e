"""Photocopy toner: a solid black that the machine could not hold, with pinholes, starved middles,
bands of the drum and dust around.
"""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.strewn import strewn_pits
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class TonerSettings(Model):
    """All shares, 0 to 1."""

    starved: float = setting(0.45, "Starved", "How thin the black is.", "share", ge=0, le=1)
    pinholes: float = setting(0.5, "Pinholes", "", "share", ge=0, le=1)
    bands: float = setting(0.4, "Bands", "Of the drum, across.", "share", ge=0, le=1)
    streaks: float = setting(0.35, "Streaks", "Along the paper.", "share", ge=0, le=1)


@maker(
    "toner",
    title="Photocopy toner",
    good_for="a mask to wear with",
    settings=TonerSettings,
    group="Grain and specks",
    starts={
        "Tired drum": {},
        "Third copy": {"starved": 0.8, "pinholes": 0.9, "bands": 0.5, "streaks": 0.6},
        "Good machine": {"starved": 0.12, "pinholes": 0.3, "bands": 0.15, "streaks": 0.1},
    },
)
def toner(settings: TonerSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: white where the toner did not hold, on black."""
    tooth = fields.band(3.0, 0.45) + 0.5 * fields.band(6.5, 0.5)
    mottle = fields.cloud(90, 1.3)
    drum = fields.swell(240, 1.4, stretch=60)  # bands across, some wider than others
    streak = fields.band(26, 0.9, stretch=1 / 90)
    thin = 2.5 - 2.3 * settings.starved
    held = tooth + 0.55 * mottle + 0.9 * settings.bands * drum
    held += settings.streaks * np.maximum(streak - 0.6, 0) * 1.3
    gone = soft_step(held, thin, thin + 0.5)
    holes = strewn_pits(fields, 40 + 2600 * settings.pinholes**1.6, 0.55, 3.6, 3.4)
    gone = np.maximum(gone, 0.95 * soft_step(holes, 0.05, 0.5))
    line = soft_step(fields.band(5, 0.5, stretch=1 / 400), 2.9 - settings.streaks, 3.3)
    gone = np.maximum(gone, 0.8 * line * soft_step(tooth, -1, 0.8))
    tone = 0.055 + 0.015 * tooth + 0.012 * mottle
    return to_bytes(tone + (0.95 - tone) * gone)
