"""Brushed metal: fine scratches side by side, a sheen over them, deeper ones that came later."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.strewn import strewn_lines
from kilncore.textures.makers.parts.tones import ramp, soft_step, to_bytes

METALS = {
    "steel": ("Steel", (70, 74, 78), (150, 154, 158), (214, 217, 219)),
    "brass": ("Brass", (84, 62, 24), (176, 142, 72), (236, 214, 150)),
    "copper": ("Copper", (78, 38, 24), (176, 104, 74), (238, 190, 160)),
    "lead": ("Dull lead", (52, 54, 58), (96, 100, 106), (140, 144, 150)),
}
CHOICES = tuple((name, told[0]) for name, told in METALS.items())


class BrushedSettings(Model):
    """length : how many times longer the brushing is than fine. depth : of it. scratches : across
    it. tarnish : stains.
    """

    metal: str = setting("steel", "Metal", "", "made_choice", choices=CHOICES)
    length: float = setting(
        60, "Brushed", "Times longer than fine.", "made_number", soft=(5, 200), ge=2, le=800, step=1
    )
    depth: float = setting(0.5, "Depth", "", "share", ge=0, le=1)
    scratches: float = setting(0.3, "Scratches", "That came later.", "share", ge=0, le=1)
    tarnish: float = setting(0.25, "Tarnish", "", "share", ge=0, le=1)


@maker(
    "brushed",
    title="Brushed metal",
    good_for="a ground, or a coat",
    settings=BrushedSettings,
    group="Materials",
    starts={
        "New steel": {},
        "Worn brass": {"metal": "brass", "scratches": 0.8, "tarnish": 0.6},
        "Dull lead": {"metal": "lead", "length": 20.0, "depth": 0.35, "tarnish": 0.7},
    },
    revision=2,
)
def brushed(settings: BrushedSettings, fields: Fields) -> np.ndarray:
    """(3, height, width) uint8."""
    long = settings.length
    # across is the brushing's way: what is drawn is stretched so far
    fine = fields.band(2.6, 0.45, stretch=long) + 0.7 * fields.band(7, 0.6, stretch=1.6 * long)
    strokes = fields.cloud(90, 1.1, stretch=0.6 * long)
    tone = 0.52 + settings.depth * (0.075 * fine + 0.055 * strokes)
    tone += 0.07 * fields.swell(700, 1.6, stretch=0.35) + 0.025 * fields.cloud(90, 1.3)
    light = strewn_lines(fields, 1 + 260 * settings.scratches, 130, 0.32, angle=0.05, spread=0.5)
    dark = strewn_lines(fields, 1 + 130 * settings.scratches, 90, 0.42, angle=0.4, spread=1.2)
    tone += 0.20 * light - 0.16 * np.roll(light, (1, 0), (0, 1)) - 0.22 * dark
    stains = soft_step(fields.swell(260, 1.6) + 0.35 * fields.cloud(24, 1.1), 0.6, 2.2)
    tone -= settings.tarnish * (0.30 * stains + 0.05 * np.maximum(fields.cloud(9, 0.8), 0))
    return to_bytes(ramp(tone, *METALS[settings.metal][1:]))
