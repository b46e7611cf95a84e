"""Asphalt: chippings of all sizes in tar, worn flat where wheels go, cracked."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.cells import cells
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.strewn import strewn_cracks
from kilncore.textures.makers.parts.tones import mix, ramp, soft_step, to_bytes


class AsphaltSettings(Model):
    """stone_px : of the largest chippings. bare : how far tar has worn off them. pale : from wet
    and new to old and grey. cracks : how many.
    """

    stone_px: float = setting(
        15, "Chippings", "", "made_number", unit="px", soft=(6, 60), ge=4, le=400, step=0.5
    )
    bare: float = setting(0.5, "Worn", "How bare they are.", "share", ge=0, le=1)
    pale: float = setting(0.4, "Old", "From black to grey.", "share", ge=0, le=1)
    cracks: float = setting(0.3, "Cracks", "", "share", ge=0, le=1)


@maker(
    "asphalt",
    title="Asphalt",
    good_for="a ground, or a coat",
    settings=AsphaltSettings,
    group="Materials",
    starts={
        "Quay road": {},
        "New and wet": {"bare": 0.1, "pale": 0.0, "cracks": 0.0},
        "Old yard": {"bare": 0.9, "pale": 0.9, "cracks": 1.0, "stone_px": 20.0},
    },
    gives=("colour", "worn", "height"),
)
def asphalt(settings: AsphaltSettings, fields: Fields) -> Maps:
    """Chippings in tar."""
    size = settings.stone_px
    grain = fields.band(2.6, 0.5)
    tone = np.full((fields.height, fields.width), 0.16, np.float32) + 0.025 * grain
    warm, shine = np.zeros_like(tone), np.zeros_like(tone)  # shine : of faces that lean to the lamp
    relief = 0.5 * fields.cloud(40, 1.4) + 0.25 * grain
    seen = fields.swell(240, 1.5) * 0.35 + fields.cloud(18, 1.2) * 0.15
    for share, many in ((0.34, 0.75), (0.58, 0.6), (1.0, 0.5)):
        stone, own, dome = _chippings(fields, size * share, many)
        held = soft_step(seen + own[0] * 0.5 + 2.6 * settings.bare - 1.1, -0.5, 0.5)
        face = stone * (0.22 + 0.78 * held)
        lightness = 0.40 + 0.12 * own[1] + 0.05 * grain
        tone += face * (lightness - tone)
        warm += face * (own[2] - warm)
        relief += stone * (0.12 * size * share * dome + 0.4 * own[0])
        shine += stone * (held * own[3] - shine)
    crack = strewn_cracks(fields, 6 * settings.cracks, 420, 1.7)
    relief = fields.blurred(relief - 3 * crack, 0.7)
    light = np.tanh(0.7 * lit(fields, relief))
    tone = tone + settings.pale * 0.22 * (1 - 0.6 * tone) + 0.02 * fields.swell(500, 1.5)
    tone *= (1 - 0.7 * crack) * (1 + 0.42 * light + 0.17 * np.tanh(shine))
    colour = ramp(tone, (18, 18, 20), (92, 91, 90), (160, 157, 152), (226, 222, 214))
    mix(
        colour,
        ramp(tone, (20, 16, 14), (104, 88, 74), (172, 152, 130), (232, 216, 194)),
        _warm_share(warm),
    )
    worn = 1 - soft_step(tone, 0.34, 0.5)
    return Maps(to_bytes(colour), to_bytes(worn), to_bytes(as_heights(relief)))


def _warm_share(warm: np.ndarray) -> np.ndarray:
    """How brown a chipping is: few of them are."""
    return 0.7 * soft_step(warm, 0.3, 1.6)


def _chippings(fields: Fields, size: float, many: float):
    """(0..1 on a chipping, four numbers of its own, how round it stands): broken stone, with
    straight sides.
    """
    bend = fields.sway(0.045 * size, 0.9 * size, 2.0, shortest=2)
    found = cells(fields, size, *bend)
    count = found.xs.size
    there = (fields.rng.random(count) < many)[found.number]
    gap = found.of_each(fields.rng.uniform(0.03, 0.16, count) * size)
    inside = found.apart - gap
    own = found.of_each(fields.rng.standard_normal((4, count)))
    dome = 1 - np.exp(-np.maximum(inside, 0) / np.float32(0.16 * size))
    return there * soft_step(inside, -0.4, 0.8), own, dome
