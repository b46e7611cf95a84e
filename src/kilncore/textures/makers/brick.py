"""Brick: courses of bricks, each of its own firing, chipped at the edges, in mortar."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.cells import of_each
from kilncore.textures.makers.parts.courses import courses
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.strewn import strewn_pits
from kilncore.textures.makers.parts.tones import mix, ramp, soft_step, to_bytes

CLAYS = {
    "red": ("Red", ((70, 30, 24), (124, 58, 42), (164, 88, 64), (196, 134, 106))),
    "buff": ("Buff", ((104, 78, 50), (162, 130, 90), (200, 170, 126), (224, 202, 166))),
    "engineering": ("Dark blue", ((28, 26, 32), (54, 50, 58), (84, 78, 86), (120, 114, 120))),
    "painted": (
        "Painted white",
        ((150, 146, 138), (206, 202, 194), (228, 225, 218), (242, 240, 235)),
    ),
}
CHOICES = tuple((name, told[0]) for name, told in CLAYS.items())
MORTAR = ((74, 70, 64), (132, 126, 116), (172, 166, 154), (204, 198, 186))
PROPORTION = 3.0  # a brick is so many times as long as it is tall, with its joint


class BrickSettings(Model):
    """course_px : from course to course. joint_px : of the mortar. differ : how far bricks differ.
    chipped : how far their edges are. soot : how dirty.
    """

    clay: str = setting("red", "Clay", "", "made_choice", choices=CHOICES)
    course_px: float = setting(
        92,
        "Courses",
        "From one to the next.",
        "made_number",
        unit="px",
        soft=(24, 400),
        ge=16,
        le=2000,
    )
    joint_px: float = setting(
        11, "Joints", "", "made_number", unit="px", soft=(2, 50), ge=1, le=300, step=0.5
    )
    differ: float = setting(0.5, "Differ", "How far bricks do.", "share", ge=0, le=1)
    chipped: float = setting(0.45, "Chipped", "", "share", ge=0, le=1)
    soot: float = setting(0.3, "Soot", "", "share", ge=0, le=1)


@maker(
    "brick",
    title="Brick",
    good_for="a ground, or a surface to follow",
    settings=BrickSettings,
    group="Materials",
    starts={
        "Customs house": {},
        "Whitewashed": {"clay": "painted", "chipped": 0.7, "differ": 0.3, "soot": 0.45},
        "Engine shed": {"clay": "engineering", "joint_px": 7.0, "differ": 0.35, "soot": 0.6},
    },
    gives=("colour", "worn", "height"),
)
def brick(settings: BrickSettings, fields: Fields) -> Maps:
    """Bricks in stretcher bond."""
    tall, joint = settings.course_px, settings.joint_px
    chip = settings.chipped
    bend = [0.012 * tall * fields.cloud(1.4 * tall, 1.9) for _ in "xy"]
    laid = courses(fields, PROPORTION * tall, tall, uneven=0.08, round_px=0.05 * tall, wander=bend)
    own = of_each(laid.number, fields.rng.standard_normal((3, laid.count)))
    rough = fields.cloud(26, 1.25)
    grit = fields.band(3.2, 0.55)
    edge = laid.inside - joint / 2 + (0.4 + 1.1 * chip) * 0.014 * tall * rough
    edge -= chip * 0.10 * tall * soft_step(fields.cloud(0.5 * tall, 1.4) + 0.3 * rough, 1.5, 3.2)
    edge += 0.35 * fields.band(5, 0.6)
    face = soft_step(edge, -1.0, 1.2)
    holes = np.maximum(
        strewn_pits(fields, 240, 1.0, 7, 2.5), 0.7 * strewn_pits(fields, 900, 0.7, 2.2, 2.6)
    )
    drag = fields.band(7, 0.6, stretch=8) + 0.6 * fields.band(3, 0.4, stretch=14)
    relief = face * (5 + 1.6 * (1 - np.exp(-np.maximum(edge, 0) / 4)) + 0.45 * own[2])
    relief += face * (0.55 * rough + 0.30 * drag - 3.2 * holes) + 0.4 * grit
    relief += (1 - face) * (0.5 * fields.cloud(14, 1.1) + 0.5 * np.minimum(-edge, 4))
    relief = fields.blurred(relief, 0.7)
    light = np.tanh(0.55 * lit(fields, relief))
    tone = 0.46 + 0.12 * settings.differ * own[0] + 0.05 * rough + 0.035 * drag + 0.03 * grit
    tone += 0.06 * fields.swell(2.2 * tall, 1.5) * (0.4 + settings.differ)
    burnt = settings.differ * soft_step(own[1] + 0.5 * fields.cloud(tall, 1.5), 0.6, 2.2)
    tone = (tone - 0.24 * burnt) * (1 - 0.5 * holes)
    down = laid.down / tall
    del bend, laid, own, drag, burnt  # room for colours
    colour = ramp(tone, *CLAYS[settings.clay][1])
    bed = 0.56 + 0.08 * fields.cloud(60, 1.3) + 0.055 * grit + 0.03 * rough
    bed = bed * (1 - 0.34 * np.exp(-np.maximum(-edge - 0.5, 0) / 2.6))  # darker under the brick
    mix(colour, ramp(bed, *MORTAR), 1 - face)
    colour *= 1 + 0.42 * light
    _sooted(settings, fields, colour, down, rough)
    worn = face * (1 - 0.9 * soft_step(holes, 0.05, 0.5)) * (0.86 + 0.14 * soft_step(rough, -2, 0))
    return Maps(to_bytes(colour), to_bytes(worn), to_bytes(as_heights(relief)))


def _sooted(
    settings: BrickSettings,
    fields: Fields,
    colour: np.ndarray,
    down: np.ndarray,
    rough: np.ndarray,
) -> None:
    """Dirt in patches, most under each course's upper edge."""
    where = soft_step(fields.swell(700, 1.6, stretch=0.7) + 0.25 * rough, -0.8, 1.9)
    dirt = settings.soot * (0.75 * where + 0.25 * soft_step(-down, 0.1, 0.5))
    for plane, dark in zip(colour, (0.36, 0.35, 0.36), strict=True):
        plane *= 1 - dirt * (1 - np.float32(dark))
