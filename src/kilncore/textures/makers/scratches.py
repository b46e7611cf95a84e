"""Scratches: one way, any way, or swirled as by a cloth; each as deep as it was hard."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.strewn import strewn_arcs, strewn_lines
from kilncore.textures.makers.parts.tones import soft_step, to_bytes

WAYS = (("any", "Any way"), ("one", "One way"), ("swirled", "Swirled"))


class ScratchesSettings(Model):
    """way : of WAYS. many : how many. length_px : of the long ones. width_px : of the deep ones.
    broken : how far they skip.
    """

    way: str = setting("any", "Way", "", "made_choice", choices=WAYS)
    many: float = setting(0.45, "How many", "", "share", ge=0, le=1)
    length_px: float = setting(
        190, "Length", "", "made_number", unit="px", soft=(30, 800), ge=10, le=3000, step=5
    )
    width_px: float = setting(
        1.4, "Width", "Of the deep ones.", "made_number", unit="px", soft=(0.5, 8), ge=0.3, le=40
    )
    broken: float = setting(0.4, "Broken", "How far they skip.", "share", ge=0, le=1)


@maker(
    "scratches",
    title="Scratches",
    good_for="a mask to wear with",
    settings=ScratchesSettings,
    group="Damage",
    starts={
        "Handled": {},
        "Dragged one way": {"way": "one", "many": 0.7, "length_px": 420.0, "broken": 0.6},
        "Polished round": {"way": "swirled", "many": 0.8, "width_px": 0.8, "broken": 0.25},
    },
)
def scratches(settings: ScratchesSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: dark scratches on white."""
    many, long, half = settings.many**1.5, settings.length_px, settings.width_px / 2
    fine = _drawn(settings, fields, 900 * many, 0.6 * long, 0.36 * half)
    some = _drawn(settings, fields, 150 * many, long, 0.65 * half)
    deep = _drawn(settings, fields, 26 * many, 1.3 * long, half)
    skips = fields.band(9, 0.8) + 0.6 * fields.cloud(80, 1.1)
    held = soft_step(skips, 2.2 * settings.broken - 2.6, 2.2 * settings.broken - 1.4)
    where = soft_step(fields.swell(500, 1.6), -1.6, 0.9)
    dark = np.maximum(0.55 * fine * (0.25 + 0.75 * where), 0.9 * some * (0.4 + 0.6 * where))
    dark = np.maximum(dark * held, deep * (0.3 + 0.7 * held))
    return to_bytes(0.985 - 0.96 * dark)


def _drawn(settings: ScratchesSettings, fields: Fields, many: float, long: float, half: float):
    if settings.way == "swirled":
        return strewn_arcs(fields, many, long, half)
    if settings.way == "one":
        return strewn_lines(fields, many, long, half, 0.42, 0.05, bend=0.04)
    return strewn_lines(fields, many, long, half, bend=0.3)
