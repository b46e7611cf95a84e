"""Quay stone: dressed blocks of many lengths, chiselled, with open joints, damp lower down."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.cells import of_each
from kilncore.textures.makers.parts.courses import courses
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.strewn import strewn_cracks, strewn_pits
from kilncore.textures.makers.parts.tones import mix, ramp, soft_step, to_bytes

STONES = {
    "granite": ("Granite", ((52, 52, 54), (108, 107, 106), (156, 154, 150), (202, 199, 193))),
    "sand": ("Sandstone", ((92, 72, 46), (150, 124, 84), (188, 164, 122), (218, 200, 164))),
    "slate": ("Slate", ((26, 30, 34), (56, 62, 66), (90, 96, 100), (132, 136, 138))),
}
CHOICES = tuple((name, told[0]) for name, told in STONES.items())
MOSS = ((22, 26, 14), (52, 60, 30), (92, 98, 54))


class StoneSettings(Model):
    """course_px : of a block. differ : how far they do. chiselled : how rough they are. cracked :
    how much. moss : in the joints.
    """

    stone: str = setting("granite", "Stone", "", "made_choice", choices=CHOICES)
    course_px: float = setting(
        230, "Blocks", "How tall.", "made_number", unit="px", soft=(60, 900), ge=40, le=4000, step=5
    )
    differ: float = setting(0.55, "Differ", "", "share", ge=0, le=1)
    chiselled: float = setting(0.5, "Chiselled", "How rough.", "share", ge=0, le=1)
    cracked: float = setting(0.35, "Cracked", "", "share", ge=0, le=1)
    moss: float = setting(0.3, "Moss", "In the joints.", "share", ge=0, le=1)


@maker(
    "stone",
    title="Quay stone",
    good_for="a ground, or a surface to follow",
    settings=StoneSettings,
    group="Materials",
    starts={
        "Berth four": {},
        "Sandstone, weathered": {"stone": "sand", "chiselled": 0.25, "cracked": 0.7, "moss": 0.1},
        "Slate, wet": {"stone": "slate", "course_px": 120.0, "chiselled": 0.7, "moss": 0.6},
    },
    gives=("colour", "worn", "height"),
)
def stone(settings: StoneSettings, fields: Fields) -> Maps:
    """Blocks in courses."""
    tall, rough = settings.course_px, settings.chiselled
    bend = fields.sway(0.02 * tall, 0.9 * tall, 2.0, shortest=5)
    laid = courses(
        fields, 1.9 * tall, tall, uneven=0.9, shift=0.5, round_px=0.07 * tall, wander=bend
    )
    own = of_each(laid.number, fields.rng.standard_normal((3, laid.count)))
    lumps, grain = fields.cloud(70, 1.6, shortest=4), fields.cloud(7, 0.8)
    edge = laid.inside - 4 - 0.012 * tall + 0.4 * grain + 0.012 * tall * np.minimum(lumps, 0)
    broken = soft_step(fields.cloud(0.3 * tall, 1.8, shortest=5), 1.3, 1.8)
    edge -= 0.05 * tall * (0.3 + rough) * broken * np.exp(-np.maximum(edge, 0) / (0.06 * tall))
    face = soft_step(edge, -1.0, 1.2)
    strokes = fields.band(13, 0.5, stretch=0.22) + 0.5 * fields.band(26, 0.5, stretch=0.5)
    strokes = np.where(own[2] > 0, strokes, fields.band(14, 0.5, stretch=3.4))
    pits = strewn_pits(fields, 500, 0.9, 9, 2.6)
    cracks = strewn_cracks(fields, 5 * settings.cracked, 300, 1.1)
    pillow = 0.05 * tall * (1 - np.exp(-np.maximum(edge, 0) / (0.08 * tall)))
    relief = face * (
        8 + pillow + 1.8 * lumps * (0.3 + rough) + rough * 1.1 * strokes + 0.8 * own[1]
    )
    relief += face * (0.5 * grain - 3 * pits - 4 * cracks) + 0.8 * (1 - face) * grain
    relief = fields.blurred(relief, 0.8)
    light = np.tanh(0.42 * lit(fields, relief))
    tone = 0.48 + 0.10 * settings.differ * own[0] + 0.05 * lumps + 0.03 * grain
    tone += _crystals(fields, settings.stone) + 0.06 * fields.swell(400, 1.5)
    tone *= (1 - 0.45 * pits) * (1 - 0.6 * cracks)
    del bend, laid, own, strokes, pillow, broken  # room for colours
    colour = ramp(tone, *STONES[settings.stone][1])
    lichen = soft_step(fields.swell(160, 1.5) + 0.4 * fields.cloud(18, 1.0), 1.1, 2.3)
    mix(colour, colour * 0.55 + 0.36, 0.4 * lichen)
    bed = ramp(0.35 + 0.10 * lumps + 0.10 * grain, (20, 19, 18), (62, 59, 54), (112, 106, 96))
    mix(colour, bed, 1 - face)
    if settings.moss:
        grows = np.exp(-np.maximum(edge, 0) / (0.05 * tall)) + 0.30 * lumps + 0.18 * grain
        low = 1.9 - 1.6 * settings.moss
        mix(colour, ramp(0.45 + 0.16 * grain, *MOSS), 0.9 * soft_step(grows, low, low + 0.55))
    colour *= 1 + 0.40 * light
    worn = face * (1 - 0.9 * soft_step(pits, 0.1, 0.6)) * (1 - 0.9 * cracks)
    return Maps(to_bytes(colour), to_bytes(worn), to_bytes(as_heights(relief)))


def _crystals(fields: Fields, stone: str) -> np.ndarray:
    """What it is made of: granite of pale and black crystals, the others of fine sand in beds."""
    if stone == "granite":
        pale = soft_step(fields.band(7, 0.5) + 0.4 * fields.band(3, 0.4), 0.7, 1.2)
        black = soft_step(fields.band(5, 0.5) + 0.4 * fields.band(2.6, 0.4), 1.2, 1.7)
        return 0.13 * pale - 0.30 * black + 0.03 * fields.band(3, 0.5)
    beds = fields.cloud(60, 1.2, stretch=7)
    return 0.035 * beds + 0.04 * fields.cloud(4, 0.7)
