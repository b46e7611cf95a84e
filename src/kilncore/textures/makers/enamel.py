"""Enamel: a glassy coat on iron, chipped to a dark rim and rust, crazed and dulled with age."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.cells import cells
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, from_edge, lit
from kilncore.textures.makers.parts.runs import run_down
from kilncore.textures.makers.parts.strewn import strewn_lines
from kilncore.textures.makers.parts.tones import mix, ramp, soft_step, to_bytes

GLAZES = {
    "white": ("White", ((176, 178, 176), (226, 227, 222), (242, 242, 238))),
    "blue": ("Deep blue", ((12, 24, 52), (26, 48, 92), (58, 86, 132))),
    "green": ("Bottle green", ((8, 34, 26), (22, 66, 50), (58, 104, 86))),
    "cream": ("Cream", ((188, 172, 132), (232, 220, 188), (246, 238, 214))),
}
CHOICES = tuple((name, told[0]) for name, told in GLAZES.items())
RUSTS = ((28, 18, 16), (66, 38, 28), (112, 66, 42), (150, 98, 62))


class EnamelSettings(Model):
    """chips : how much has chipped off. chip_px : of a chip. rusted : how far rust has gone.
    crazed : fine cracks. dull : how far its shine is gone.
    """

    glaze: str = setting("white", "Colour", "", "made_choice", choices=CHOICES)
    chips: float = setting(0.3, "Chips", "How much is off.", "share", ge=0, le=1)
    chip_px: float = setting(
        60, "Size", "Of a chip.", "made_number", unit="px", soft=(15, 300), ge=8, le=1500, step=1
    )
    rusted: float = setting(0.55, "Rusted", "", "share", ge=0, le=1)
    crazed: float = setting(0.3, "Crazed", "", "share", ge=0, le=1)
    dull: float = setting(0.4, "Dull", "", "share", ge=0, le=1)


@maker(
    "enamel",
    title="Enamelled iron",
    good_for="a ground, or a mask",
    settings=EnamelSettings,
    group="Materials",
    starts={
        "Platform sign": {},
        "Galley mug": {"glaze": "blue", "chips": 0.12, "chip_px": 40.0, "crazed": 0.1, "dull": 0.1},
        "Out in all weathers": {
            "glaze": "cream",
            "chips": 0.6,
            "rusted": 1.0,
            "crazed": 0.8,
            "dull": 0.9,
        },
    },
    gives=("colour", "worn", "height"),
)
def enamel(settings: EnamelSettings, fields: Fields) -> Maps:
    """Enamel over iron."""
    size = settings.chip_px
    edge = _left(settings, fields, size)
    glaze = soft_step(edge, -0.7, 0.7)
    under = soft_step(edge + 0.13 * size + 0.5 * fields.band(5, 0.6), -0.9, 0.9) * (1 - glaze)
    grain, rough = fields.cloud(6, 0.9), fields.cloud(26, 1.3)
    wave = fields.cloud(420, 2.2, shortest=30)  # glass is never flat
    peel = fields.band(34, 0.4)
    relief = glaze * (5 + 0.9 * wave + 0.16 * peel) + under * 2.4
    relief += (1 - glaze) * (0.8 * grain + 0.9 * rough) * (0.3 + settings.rusted)
    light = np.tanh(0.6 * lit(fields, fields.blurred(relief, 0.8)))
    tone = 0.60 + 0.06 * wave + 0.015 * rough
    tone -= settings.dull * (0.12 * soft_step(fields.swell(200, 1.4), 0, 2) + 0.03 * np.abs(grain))
    crazing = _crazed(settings, fields, edge)
    del wave, peel  # room for colours
    colour = ramp(tone, *GLAZES[settings.glaze][1]) * (1 - 0.62 * crazing)
    halo = settings.rusted * np.exp(-np.maximum(edge, 0) / (0.05 * size + 2))
    ran = run_down(fields, (1 - glaze) * soft_step(rough, -0.4, 0.9), 20, 130)
    stained = np.clip(
        0.55 * halo * (0.7 + 0.3 * rough) + settings.rusted * 0.5 * fields.blurred(ran, 1.4),
        0,
        0.85,
    )
    for plane, stain in zip(colour, (168, 112, 66), strict=True):
        plane += stained * glaze * (plane * np.float32(stain / 190) - plane)
    if settings.dull < 1:
        streaks = strewn_lines(fields, 60, 200, 0.4, 0.3, 0.8, bend=0.1)
        colour += (1 - settings.dull) * 0.10 * np.maximum(light, 0) + 0.04 * streaks
    rust = 0.42 + 0.09 * rough + 0.07 * grain - 0.10 * np.exp(np.minimum(edge, 0) / 5)
    iron = ramp(rust, *RUSTS)
    mix(
        iron,
        ramp(0.35 + 0.05 * grain, (20, 20, 22), (60, 60, 63), (104, 104, 106)),
        1 - settings.rusted,
    )
    mix(colour, iron, 1 - glaze)
    mix(colour, ramp(0.4 + 0.1 * grain, (14, 14, 18), (40, 42, 48), (78, 80, 86)), 0.9 * under)
    colour *= 1 + 0.34 * light
    return Maps(to_bytes(colour), to_bytes(glaze), to_bytes(as_heights(relief)))


def _left(settings: EnamelSettings, fields: Fields, size: float) -> np.ndarray:
    """px to the edge of what is left of the coat, positive on it: chips are shell-shaped, side by
    side where it was hit.
    """
    bend = fields.sway(0.07 * size, 0.9 * size, 1.8, shortest=3)
    found = cells(fields, size, *bend)
    count = found.xs.size
    hit = fields.swell(6 * size, 1.5)
    at = found.ys.astype(int) % fields.height, found.xs.astype(int) % fields.width
    order = hit[at] + 0.7 * fields.rng.standard_normal(found.xs.size)
    level = np.quantile(order, 1 - settings.chips) if settings.chips else np.inf
    off = (order > level)[found.number]
    # what lies side by side has come off together, each as far as it would
    inset = found.of_each(fields.rng.uniform(0.0, 0.3, count) * size)
    inside = from_edge(fields, off, 0.6 * size) - fields.blurred(inset, 0.05 * size)
    inside -= 0.05 * size * fields.cloud(0.35 * size, 1.5)
    small = 0.5 * fields.band(7, 0.6) + 0.012 * size * fields.band(0.3 * size, 0.5)
    return -(inside + small) if settings.chips else np.full_like(inside, 9 * size)


def _crazed(settings: EnamelSettings, fields: Fields, edge: np.ndarray) -> np.ndarray:
    """Fine cracks, most near chips."""
    if not settings.crazed:
        return np.zeros_like(edge)
    found = cells(fields, 46, *fields.sway(5, 60, 2.0, shortest=8))
    near = 0.5 * np.exp(-np.maximum(edge, 0) / 40) + 0.35 * fields.swell(240, 1.5)
    opened = soft_step(near + 1.7 * settings.crazed - 0.9, -0.3, 0.8)
    return opened * np.clip(0.75 - found.apart, 0, 1)
