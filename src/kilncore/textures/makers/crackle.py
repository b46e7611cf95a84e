"""Crackle: a coat that has shrunk and split, in plates and again within them, as old varnish, glaze
and dried mud do.
"""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.cells import cells
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.tones import soft_step, to_bytes

FINER = 0.36  # of a plate: what it splits into


class CrackleSettings(Model):
    """plate_px : of a plate. width_px : of the widest cracks. finer : how far plates split again.
    healed : the share of cracks that close. lifted : how far the rims of plates stand up.
    """

    plate_px: float = setting(
        110, "Plates", "", "made_number", unit="px", soft=(20, 400), ge=10, le=1500, step=1
    )
    width_px: float = setting(
        3.0, "Widest crack", "", "made_number", unit="px", soft=(0.5, 14), ge=0.3, le=60, step=0.1
    )
    finer: float = setting(0.5, "Split again", "How many plates.", "share", ge=0, le=1)
    healed: float = setting(0.3, "Closed", "How many cracks end.", "share", ge=0, le=1)
    lifted: float = setting(0.4, "Lifted rims", "", "share", ge=0, le=1)


@maker(
    "crackle",
    title="Crackle",
    good_for="a mask, or a map to follow",
    settings=CrackleSettings,
    group="Damage",
    starts={
        "Old varnish": {},
        "Dried mud": {
            "plate_px": 230.0,
            "width_px": 11.0,
            "finer": 0.3,
            "lifted": 0.8,
            "healed": 0.1,
        },
        "Fine glaze": {
            "plate_px": 46.0,
            "width_px": 1.1,
            "finer": 0.25,
            "lifted": 0.0,
            "healed": 0.45,
        },
    },
    gives=("colour", "worn", "height"),
    revision=2,
)
def crackle(settings: CrackleSettings, fields: Fields) -> Maps:
    """Dark cracks on light plates."""
    size = settings.plate_px
    uneven = 0.45 + 0.4 * np.tanh(fields.swell(3 * size, 1.5))  # wide here, closed there
    plates, number = _split(fields, size, 0.5 * settings.width_px * (0.35 + uneven))
    fine, _ = _split(fields, FINER * size, 0.22 * settings.width_px * (0.3 + uneven))
    again = fields.rng.random(number.max() + 1)[number] < settings.finer
    fine = np.where(again, fine, -1e3)
    open_here = soft_step(
        fields.cloud(1.5 * size, 1.5), 3 * settings.healed - 2.6, 3 * settings.healed - 1.2
    )
    edge = np.maximum(plates * 1.0, fine)  # px into a crack, below 0 on a plate
    edge = edge - (1 - open_here) * settings.width_px * 0.9
    crack = soft_step(edge + 0.25 * fields.band(4, 0.6), -0.7, 0.7)
    rim = np.exp(np.minimum(edge, 0) / (1.2 + 0.05 * size))
    relief = settings.lifted * 7 * rim - 2.5 * crack + 0.12 * fields.cloud(40, 1.6, shortest=3)
    light = lit(fields, fields.blurred(relief, 0.8))
    shade = 0.018 * fields.rng.standard_normal(number.max() + 1).astype(np.float32)[number]
    tone = 0.80 + shade + 0.03 * fields.swell(300, 1.5) + 0.018 * fields.band(3, 0.5)
    tone += 0.13 * np.tanh(1.4 * light) - 0.10 * settings.lifted * rim * (1 - crack)
    tone *= 1 - 0.90 * crack
    worn = 1 - crack * (1 - 0.15 * soft_step(fields.band(5, 0.6), 0.4, 1.6))
    return Maps(to_bytes(tone), worn=to_bytes(worn), height=to_bytes(as_heights(relief)))


def _split(fields: Fields, size: float, half: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """(px into the cracks between cells, the cells' numbers). half : of a crack's width, px."""
    shifts = [
        0.10 * size * fields.cloud(1.2 * size, 2.0, shortest=0.22 * size)
        + 0.7 * fields.band(7, 0.5)
        for _ in range(2)
    ]
    found = cells(fields, size, *shifts)
    return half - found.apart, found.number
