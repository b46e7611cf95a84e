"""Plaster: laid on with a trowel, its strokes at all angles, hollows, hair cracks, patches."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.cells import cells
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.flow import flowed
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.strewn import strewn_cracks, strewn_pits
from kilncore.textures.makers.parts.tones import ramp, soft_step, to_bytes

LIMES = {
    "white": ("Lime white", ((150, 144, 134), (204, 199, 188), (230, 226, 217), (246, 243, 237))),
    "ochre": ("Ochre", ((122, 88, 44), (182, 142, 82), (212, 178, 120), (234, 210, 166))),
    "grey": ("Grey", ((84, 84, 82), (134, 134, 131), (172, 172, 168), (206, 206, 201))),
    "rose": ("Rose", ((122, 72, 60), (182, 124, 106), (212, 164, 146), (234, 202, 188))),
}
CHOICES = tuple((name, told[0]) for name, told in LIMES.items())


class PlasterSettings(Model):
    """stroke_px : of the trowel. rough : how far strokes stand up. hollows : holes left by sand.
    cracks : how many. stained : how uneven its colour is.
    """

    lime: str = setting("white", "Colour", "", "made_choice", choices=CHOICES)
    stroke_px: float = setting(
        240, "Strokes", "Of the trowel.", "made_number", unit="px", soft=(60, 900), ge=30, le=4000
    )
    rough: float = setting(0.5, "Rough", "", "share", ge=0, le=1)
    hollows: float = setting(0.4, "Hollows", "", "share", ge=0, le=1)
    cracks: float = setting(0.35, "Cracks", "", "share", ge=0, le=1)
    stained: float = setting(0.45, "Stained", "", "share", ge=0, le=1)


@maker(
    "plaster",
    title="Plaster",
    good_for="a ground, or a coat",
    settings=PlasterSettings,
    group="Materials",
    starts={
        "Waiting room": {},
        "Polished": {"lime": "ochre", "rough": 0.12, "hollows": 0.1, "cracks": 0.1, "stained": 0.8},
        "Old and rough": {"lime": "grey", "rough": 1.0, "hollows": 0.9, "cracks": 1.0},
    },
    gives=("colour", "worn", "height"),
)
def plaster(settings: PlasterSettings, fields: Fields) -> Maps:
    """Trowelled plaster."""
    size = settings.stroke_px
    strokes, ridge = _trowelled(fields, size)
    sand, lumps = fields.band(3.4, 0.5), fields.cloud(34, 1.5, shortest=2)
    holes = np.maximum(
        strewn_pits(fields, 20 + 460 * settings.hollows, 0.9, 9, 2.5),
        0.8
        * strewn_pits(fields, 8 + 60 * settings.hollows, 2, 20, 2.6)
        * soft_step(lumps, -1.5, 1),
    )
    crack = strewn_cracks(fields, 7 * settings.cracks, 380, 0.8)
    relief = settings.rough * (15 * strokes + 6 * ridge) + (0.4 + settings.rough) * 0.8 * lumps
    relief += (0.16 + 0.34 * settings.rough) * sand - 5 * holes - 2.4 * crack
    relief = fields.blurred(relief, 0.8)
    light = np.tanh(0.6 * lit(fields, relief))
    tone = 0.60 + 0.05 * (0.3 + settings.stained) * fields.swell(600, 1.6)
    tone += settings.stained * (0.07 * fields.swell(130, 1.5) + 0.055 * np.tanh(2 * strokes))
    tone += 0.014 * sand + 0.012 * lumps + 0.13 * light
    damp = soft_step(fields.swell(520, 1.7, stretch=0.8) + 0.3 * lumps, 0.9, 2.2)
    tone -= settings.stained * 0.16 * damp
    tone *= (1 - 0.4 * soft_step(holes, 0.02, 0.6)) * (1 - 0.62 * crack)
    worn = (1 - 0.95 * soft_step(holes, 0.02, 0.4)) * (1 - 0.95 * crack)
    worn *= 1 - 0.5 * settings.rough * soft_step(strokes + 0.06 * sand, 0.30, 0.42)
    colour = ramp(tone, *LIMES[settings.lime][1])
    return Maps(to_bytes(colour), to_bytes(worn), to_bytes(as_heights(relief)))


def _trowelled(fields: Fields, size: float) -> tuple[np.ndarray, np.ndarray]:
    """(height of the strokes, ridges at their ends), about -0.5..0.5 and 0..1."""
    bend = fields.sway(0.22 * size, 0.8 * size, 2.0, shortest=0.08 * size)
    found = cells(fields, size, *bend, wide=1.3)
    way = found.of_each(fields.rng.uniform(-1, 1, found.xs.size))
    along = fields.cloud(0.5 * size, 1.5, stretch=5, shortest=2)
    upright = fields.cloud(0.5 * size, 1.5, stretch=0.2, shortest=2)
    sway = fields.sway(0.12 * size, 0.7 * size, 2.2, shortest=0.1 * size)
    drawn = flowed(fields, np.where(way > 0.15, along, upright), *sway)
    ridge = np.exp(-found.apart / np.float32(0.025 * size)) * soft_step(along + upright, -0.4, 1.5)
    return 0.20 * drawn + 0.16 * way, ridge
