"""Chipped edges: plates whose rims are broken off in shells, most at the corners."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.cells import cells, of_each
from kilncore.textures.makers.parts.courses import Courses, courses
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, from_edge, lit
from kilncore.textures.makers.parts.tones import mix, ramp, soft_step, to_bytes

SIZES = ((1.0, 0.42), (0.42, 0.62), (0.17, 0.9))  # of a chip, and how many of that size there are
BED = ((24, 22, 20), (70, 65, 58), (120, 113, 102), (160, 152, 140))
GLAZE = ((120, 118, 112), (204, 201, 194), (228, 226, 220), (250, 249, 246))


class ChippedSettings(Model):
    """plate_px, tall_px : of a plate. chip_px : the largest chips. reach : how far from the edge
    they are found, of a plate. chips : how many. corners : how far they break more than sides.
    """

    plate_px: float = setting(
        1024, "Plates", "How wide.", "made_number", unit="px", soft=(100, 3000), ge=48, le=20000
    )
    tall_px: float = setting(
        1024, "Tall", "How tall.", "made_number", unit="px", soft=(100, 3000), ge=48, le=20000
    )
    chip_px: float = setting(
        70, "Largest chips", "", "made_number", unit="px", soft=(10, 300), ge=6, le=2000
    )
    reach: float = setting(0.35, "Reach", "How far in from the edge.", "share", ge=0, le=1)
    chips: float = setting(0.5, "Chips", "How many.", "share", ge=0, le=1)
    corners: float = setting(0.6, "Corners", "How far they break more.", "share", ge=0, le=1)


@maker(
    "chipped",
    title="Chipped edges",
    good_for="a mask for signs, tiles and lettering",
    settings=ChippedSettings,
    group="Damage",
    starts={
        "Tin signs": {},
        "Galley tiles": {
            "plate_px": 256.0,
            "tall_px": 256.0,
            "chip_px": 34.0,
            "chips": 0.32,
            "corners": 0.8,
        },
        "Knocked about": {"chips": 0.75, "reach": 0.7, "chip_px": 110.0, "corners": 0.2},
    },
    gives=("colour", "worn", "height"),
)
def chipped(settings: ChippedSettings, fields: Fields) -> Maps:
    """Pale plates on what carries them."""
    size = settings.chip_px
    bend = fields.sway(1.2, 160, 2.0, shortest=8)
    laid = courses(
        fields,
        settings.plate_px,
        settings.tall_px,
        shift=0.0,
        round_px=4.0,
        wander=bend,
        even=False,
    )
    rim = _broken_more(settings, laid)
    left = laid.inside - 2.5 + 0.25 * fields.band(4, 0.5)
    shell = np.zeros_like(left)
    hit, small = fields.swell(5 * size, 1.5), 0.2 * fields.band(5, 0.5)
    for share, many in SIZES:
        outside, tilt = _chips(settings, fields, rim, hit, size * share, many)
        off = small - outside
        left = np.minimum(left, off)
        shell += np.where(off < 0, tilt * size * share, 0)
    glaze = soft_step(left, -0.9, 0.9)
    grain, rough = fields.cloud(6, 0.9), fields.cloud(30, 1.4)
    ripple = np.sin(left * np.float32(2 * np.pi / 9)) * np.exp(np.minimum(left, 0) / 14)
    relief = glaze * (6 + 1.3 * fields.swell(300, 2.0) + 0.05 * rough) + (1 - glaze) * (
        0.22 * shell + 0.35 * ripple + 0.5 * grain
    )
    light = np.tanh(0.5 * lit(fields, fields.blurred(relief, 0.7)))
    own = of_each(laid.number, fields.rng.standard_normal(laid.count))
    tone = 0.62 + 0.02 * rough + 0.012 * grain + 0.04 * own + 0.03 * fields.swell(500, 1.6)
    tone -= 0.14 * np.exp(-np.maximum(left, 0) / 2.5) * soft_step(rough, -1, 1.5)
    colour = ramp(tone, *GLAZE)
    deep = 0.52 + 0.09 * rough + 0.07 * grain - 0.25 * np.exp(np.minimum(left, 0) / 4)
    mix(colour, ramp(deep, *BED), 1 - glaze)
    colour *= 1 + 0.42 * light
    return Maps(to_bytes(colour), to_bytes(glaze), to_bytes(as_heights(relief)))


def _broken_more(settings: ChippedSettings, laid: Courses) -> np.ndarray:
    """px from the edge, as much nearer at corners as they break more."""
    near = np.abs(laid.across / laid.across.max() * (laid.down / laid.down.max()))
    return laid.inside / (1 + 3 * settings.corners * np.clip(near, 0, 1) ** 4)


def _chips(
    settings: ChippedSettings,
    fields: Fields,
    rim: np.ndarray,
    hit: np.ndarray,
    size: float,
    many: float,
) -> tuple[np.ndarray, np.ndarray]:
    """(px within a chip, below 0 outside; how its shell leans, -1 to 1). hit : how hard, where."""
    found = cells(fields, size, *fields.sway(0.06 * size, 0.9 * size, 2.1, shortest=0.15 * size))
    count = found.xs.size
    at = found.ys.astype(int) % fields.height, found.xs.astype(int) % fields.width
    least = min(settings.plate_px, settings.tall_px) / 2
    reach = size * 0.3 + settings.reach**2 * least * fields.rng.exponential(0.5, count)
    hard = hit[at] + 0.5 * fields.rng.standard_normal(count)
    falls = (hard > 2.4 - 3.6 * many * settings.chips) & (rim[at] < reach) & (settings.chips > 0)
    leans = fields.rng.uniform(-0.6, 0.6, count)
    gone, lean = found.of_each(np.stack([falls.astype(np.float32), leans.astype(np.float32)]))
    return from_edge(fields, gone > 0.5, 0.5 * size + 4), lean
