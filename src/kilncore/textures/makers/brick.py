"""Brick: courses of bricks, each of its own firing, chipped at the edges, in mortar."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.cells import of_each
from kilncore.textures.makers.parts.courses import courses
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.strewn import strewn_lines, strewn_pits
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
    bend = fields.sway(0.014 * tall, 1.2 * tall, 2.1, shortest=6)
    laid = courses(fields, PROPORTION * tall, tall, uneven=0.08, round_px=0.06 * tall, wander=bend)
    own = of_each(laid.number, fields.rng.standard_normal((4, laid.count)))
    rough, grit = fields.cloud(30, 1.35), fields.band(3.2, 0.55)
    edge = laid.inside - joint / 2 - 0.4 * chip * np.abs(rough) + 0.2 * grit
    edge -= chip * _spalls(fields, tall, laid.inside - joint / 2)
    face = soft_step(edge, -0.7, 1.0)
    holes, splits = _holes(fields, tall), _splits(fields, own[3])
    arris = 1 - np.exp(-np.maximum(edge, 0) / (0.035 * tall))
    relief = face * (3.5 + 3.2 * arris + 0.5 * own[2] + 0.5 * rough - 4.5 * holes - 2.2 * splits)
    relief += 0.28 * grit + (1 - face) * (0.35 * fields.cloud(16, 1.3) - 0.4 * np.minimum(-edge, 3))
    light = np.tanh(0.6 * lit(fields, fields.blurred(relief, 0.6)))
    tone = 0.46 + 0.13 * settings.differ * own[0] + 0.055 * rough + 0.04 * grit
    tone += 0.085 * fields.swell(0.8 * tall, 1.4) * (0.5 + settings.differ)
    skin = soft_step(fields.cloud(0.5 * tall, 1.2) + 0.8 * own[3], 0.4, 1.9)  # fired darker
    fired = settings.differ * soft_step(own[1] + 0.5 * fields.cloud(tall, 1.5), 0.5, 2.2)
    tone -= 0.10 * skin + 0.26 * fired
    tone *= (1 - 0.75 * holes) * (1 - 0.5 * splits)
    down = laid.down / tall
    hue = settings.differ * (0.7 * own[2] + 0.5 * fields.swell(1.4 * tall, 1.5))
    del bend, laid, own, skin, fired, arris  # room for colours
    colour = ramp(tone, *CLAYS[settings.clay][1])
    for plane, way in zip(colour, (0.03, 0.075, 0.05), strict=True):
        plane *= 1 + np.float32(way) * hue
    bed = 0.56 + 0.09 * fields.cloud(60, 1.3) + 0.07 * grit + 0.04 * rough
    bed *= 1 - 0.42 * np.exp(-np.maximum(-edge - 0.5, 0) / 2.2)  # darker under the brick
    mix(colour, ramp(bed, *MORTAR), 1 - face)
    film = soft_step(fields.cloud(0.6 * tall, 1.2) - 0.02 * np.maximum(edge, 0), 0.9, 2.4)
    mix(colour, ramp(0.6 + 0.08 * rough, *MORTAR), 0.30 * film)  # mortar smeared by the trowel
    colour *= 1 + 0.46 * light
    _sooted(settings, fields, colour, down, rough)
    worn = face * (1 - 0.9 * soft_step(holes, 0.05, 0.5)) * (0.86 + 0.14 * soft_step(rough, -2, 0))
    return Maps(to_bytes(colour), to_bytes(worn), to_bytes(as_heights(relief)))


def _spalls(fields: Fields, tall: float, inside: np.ndarray) -> np.ndarray:
    """px by which edges are broken off, in few places, sharply: most at corners."""
    where = soft_step(fields.cloud(0.5 * tall, 2.0, shortest=0.09 * tall), 1.1, 1.7)
    return 0.12 * tall * where * np.exp(-np.maximum(inside, 0) / (0.16 * tall))


def _holes(fields: Fields, tall: float) -> np.ndarray:
    """Pores, and hollows that are drawn out as clay is when it is cut."""
    pores = strewn_pits(fields, 1300, 0.8, 4, 2.4)
    drawn = soft_step(fields.band(0.10 * tall, 0.6, stretch=2.2), 2.05, 2.7)
    return np.maximum(pores, drawn)


def _splits(fields: Fields, own: np.ndarray) -> np.ndarray:
    """Cracks of the firing: along the brick, in some of them."""
    lines = strewn_lines(fields, 90, 46, 0.9, angle=0.0, spread=0.35, bend=0.9)
    return lines * soft_step(own, -0.2, 0.4)


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
