"""Grunge: nearly black and white. Rubbed patches, specks and scratches, for masks."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.strewn import strewn_lines, strewn_pits
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class GrungeSettings(Model):
    """All shares, 0 to 1."""

    amount: float = setting(0.4, "Amount", "How much is dark.", "share", ge=0, le=1)
    patches: float = setting(0.5, "Patches", "Even, or gathered in patches.", "share", ge=0, le=1)
    specks: float = setting(0.5, "Specks", "How many.", "share", ge=0, le=1)
    scratches: float = setting(0.35, "Scratches", "How many.", "share", ge=0, le=1)


@maker(
    "grunge",
    title="Grunge",
    good_for="a mask to wear with",
    settings=GrungeSettings,
    group="Grain and specks",
    starts={
        "Rubbed": {},
        "Specks alone": {"amount": 0.0, "patches": 0.2, "specks": 1.0, "scratches": 0.0},
        "Nearly gone": {"amount": 1.0, "patches": 0.85, "specks": 0.7, "scratches": 0.6},
    },
    revision=2,
)
def grunge(settings: GrungeSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8."""
    where = fields.swell(420, 1.7)
    rough = fields.cloud(46, 1.25) + 0.55 * fields.cloud(9, 0.8) + 0.3 * fields.band(2.8, 0.5)
    level = np.quantile((rough + 0.1 * where)[::3, ::3], 1 - (0.03 + 0.4 * settings.amount**1.4))
    gathered = rough + (0.25 + 1.1 * settings.patches) * where
    flaked = soft_step(
        gathered, level + 0.15 + 0.7 * settings.patches, level + 0.55 + 0.7 * settings.patches
    )
    crumbs = soft_step(
        fields.band(5.5, 0.6) + 0.55 * where + 0.3 * rough,
        2.75 - 0.7 * settings.specks,
        3.05 - 0.7 * settings.specks,
    )
    specks = soft_step(strewn_pits(fields, 80 + 1100 * settings.specks, 0.7, 7, 3.1), 0.02, 0.4)
    scratches = _scratches(fields, settings.scratches)
    dark = 1 - (1 - flaked) * (1 - crumbs) * (1 - specks) * (1 - scratches)
    islands = soft_step(fields.band(4, 0.6) + 0.3 * fields.cloud(30, 1), 1.7, 2.1) * soft_step(
        dark, 0.4, 0.9
    )
    dust = 0.035 * np.clip(fields.cloud(60, 0.9), 0, 3)
    value = (1 - dark) + islands * 0.85
    return to_bytes(0.03 + 0.95 * np.clip(value, 0, 1) - dust + 0.012 * fields.band(2.5, 0.5))


def _scratches(fields: Fields, amount: float):
    if not amount:
        return np.zeros((fields.height, fields.width), np.float32)
    angle = fields.rng.normal(0.5, 0.5)
    fine = strewn_lines(fields, 70 * amount, 130, 0.55, angle, 0.25, 0.2)
    any_way = strewn_lines(fields, 26 * amount, 70, 0.8, bend=0.4)
    broken = soft_step(fields.band(7, 0.8), -1.0, -0.1)
    return np.clip(np.maximum(fine, any_way) * broken * 1.15, 0, 1)
