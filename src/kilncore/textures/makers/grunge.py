"""Grunge: nearly black and white. Rubbed patches, specks and scratches, for masks."""

import numpy as np
from pydantic import Field

from kilncore.model import Model
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.marks import strewn_lines, strewn_pits
from kilncore.textures.makers.spectra import Fields, soft_step, to_bytes


class GrungeParams(Model):
    amount: float = Field(0.4, title="Amount", description="How much is dark.", ge=0, le=1)
    patches: float = Field(0.5, title="Patches", description="Even, or gathered in patches.", ge=0, le=1)
    specks: float = Field(0.5, title="Specks", description="How many.", ge=0, le=1)
    scratches: float = Field(0.35, title="Scratches", description="How many.", ge=0, le=1)


@maker("grunge", title="Grunge", good_for="a mask to wear with", params=GrungeParams)
def grunge(params: GrungeParams, width: int, height: int, seed: int) -> np.ndarray:
    fields = Fields(width, height, seed)
    rng = fields.rng
    where = fields.cloud(420, 1.7)
    rough = fields.cloud(46, 1.25) + 0.55 * fields.cloud(9, 0.8) + 0.3 * fields.band(2.8, 0.5)
    level = np.quantile(rough + 0.1 * where, 1 - (0.03 + 0.4 * params.amount**1.4))
    gathered = rough + (0.25 + 1.1 * params.patches) * where
    flaked = soft_step(gathered, level + 0.15 + 0.7 * params.patches, level + 0.55 + 0.7 * params.patches)
    crumbs = soft_step(fields.band(5.5, 0.6) + 0.55 * where + 0.3 * rough, 2.75 - 0.7 * params.specks, 3.05 - 0.7 * params.specks)
    specks = soft_step(strewn_pits(rng, width, height, 80 + 1100 * params.specks, 0.7, 7, 3.1), 0.02, 0.4)
    scratches = _scratches(rng, fields, width, height, params.scratches)
    dark = 1 - (1 - flaked) * (1 - crumbs) * (1 - specks) * (1 - scratches)
    islands = soft_step(fields.band(4, 0.6) + 0.3 * fields.cloud(30, 1), 1.7, 2.1) * soft_step(dark, 0.4, 0.9)
    dust = 0.035 * np.clip(fields.cloud(60, 0.9), 0, 3)
    value = (1 - dark) + islands * 0.85
    return to_bytes(0.03 + 0.95 * np.clip(value, 0, 1) - dust + 0.012 * fields.band(2.5, 0.5))


def _scratches(rng, fields: Fields, width, height, amount):
    if not amount:
        return np.zeros((height, width), np.float32)
    angle = rng.normal(0.5, 0.5)
    fine = strewn_lines(rng, width, height, 70 * amount, 130, 0.55, angle, 0.25, 0.2)
    any_way = strewn_lines(rng, width, height, 26 * amount, 70, 0.8, bend=0.4)
    broken = soft_step(fields.band(7, 0.8), -1.0, -0.1)
    return np.clip(np.maximum(fine, any_way) * broken * 1.15, 0, 1)
