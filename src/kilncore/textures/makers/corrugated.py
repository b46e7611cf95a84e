"""Corrugated sheet: waves of iron, painted or galvanised, lapped, nailed, rusting from edges."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.runs import run_down
from kilncore.textures.makers.parts.tones import mix, ramp, soft_step, to_bytes

SHEETS = {
    "zinc": ("Galvanised", ((58, 62, 66), (118, 124, 128), (172, 177, 180), (214, 218, 220))),
    "green": ("Shed green", ((20, 40, 34), (46, 78, 66), (84, 116, 100), (136, 160, 144))),
    "red": ("Oxide red", ((52, 20, 16), (110, 46, 36), (150, 78, 62), (188, 126, 108))),
    "black": ("Tarred", ((10, 10, 11), (26, 26, 27), (52, 51, 50), (92, 90, 88))),
}
CHOICES = tuple((name, told[0]) for name, told in SHEETS.items())
RUSTS = ((40, 22, 16), (88, 46, 26), (134, 76, 40), (172, 116, 72))

LAP = 0.37  # of a sheet: how far above the texture's edge its upper end lies


class CorrugatedSettings(Model):
    """pitch_px : from wave to wave. sheet_px : how tall a sheet is, to its lap. deep : how strong
    light falls on it. rusted : how much. dirty : how much.
    """

    sheet: str = setting("zinc", "Sheet", "", "made_choice", choices=CHOICES)
    pitch_px: float = setting(
        64,
        "Waves",
        "From one to the next.",
        "made_number",
        unit="px",
        soft=(16, 300),
        ge=10,
        le=2000,
    )
    sheet_px: float = setting(
        680, "Sheets", "How tall.", "made_number", unit="px", soft=(200, 3000), ge=100, le=8000
    )
    deep: float = setting(0.5, "Deep", "", "share", ge=0, le=1)
    rusted: float = setting(0.4, "Rusted", "", "share", ge=0, le=1)
    dirty: float = setting(0.4, "Dirty", "", "share", ge=0, le=1)


@maker(
    "corrugated",
    title="Corrugated sheet",
    good_for="a ground, or a surface to follow",
    settings=CorrugatedSettings,
    group="Materials",
    starts={
        "Boat shed": {},
        "Painted store": {"sheet": "green", "rusted": 0.55, "dirty": 0.5},
        "Going": {"sheet": "red", "rusted": 0.95, "dirty": 0.7, "deep": 0.65},
    },
    gives=("colour", "worn", "height"),
)
def corrugated(settings: CorrugatedSettings, fields: Fields) -> Maps:
    """Upright waves, in sheets that lap."""
    scale = fields.scale
    waves = max(1, round(fields.width / (settings.pitch_px * scale)))
    sheets = max(1, round(fields.height / (settings.sheet_px * scale)))
    pitch, tall = fields.width / scale / waves, fields.height / scale / sheets
    x = ((np.arange(fields.width) + 0.5) / scale / pitch).astype(np.float32)[None]
    y = ((np.arange(fields.height) + 0.5) / scale / tall + LAP).astype(np.float32)[:, None]
    sway = 0.03 * fields.cloud(700, 2.2, stretch=0.3, shortest=60)
    wave = np.cos(2 * np.pi * (x + sway))  # 1 on a crest
    number = np.floor(y).astype(int) % sheets
    own = fields.rng.normal(0, 1, sheets).astype(np.float32)[number]
    down = (y % 1) * tall  # px below the lap of its sheet
    ragged = 0.9 * fields.swell(120, 1.5, stretch=3) + 0.25 * fields.band(9, 0.6)
    lap = np.exp(-np.maximum(down + ragged - 0.6, 0) / 5)  # the shadow under the sheet above
    rim = np.exp(-np.abs(tall - down + ragged - 1.5) / 1.3)
    nails, near = _nails(fields, x, down, pitch)
    dents = fields.cloud(260, 2.0, shortest=20)
    relief = (0.20 + 0.18 * settings.deep) * pitch * 0.5 * wave + 1.6 * dents
    grain = fields.cloud(9, 0.9)
    source = np.clip(np.maximum(rim * soft_step(ragged, -1.2, 0.6), near), 0, 1)
    rough = fields.cloud(90, 1.5) + 0.5 * fields.cloud(14, 1.0)
    low = 2.5 - 2.9 * settings.rusted
    eaten = soft_step(rough + 2.0 * source - 0.35 * wave, low, low + 0.5)
    fine = relief + 1.2 * eaten * (0.5 * grain + 0.6) + 5 * nails + 0.18 * fields.band(3, 0.5)
    light = np.tanh((0.5 + settings.deep) * 1.05 * lit(fields, fields.blurred(fine, 0.6)))
    tone = 0.50 + 0.045 * own + 0.07 * fields.swell(420, 1.5) + 0.018 * grain
    tone += 0.05 * np.tanh(fields.band(40, 0.5)) * (settings.sheet == "zinc")
    tone += 0.10 * wave
    colour = ramp(tone, *SHEETS[settings.sheet][1])
    ran = run_down(fields, source * soft_step(rough, -0.6, 0.8), 60, 300)
    ran = fields.blurred(ran, 1.6) * (0.6 - 0.35 * wave)
    stained = np.clip(settings.rusted * ran + 0.15 * eaten, 0, 0.8)
    for plane, stain in zip(colour, (136, 84, 50), strict=True):
        plane += stained * (plane * np.float32(stain / 160) - plane)
    rusty = 0.46 + 0.11 * rough / 1.2 + 0.07 * grain
    mix(colour, ramp(rusty, *RUSTS), eaten)
    dirt = settings.dirty * (0.30 * soft_step(-wave, 0.1, 1.0) + 0.22 * soft_step(rough, 0.2, 2))
    colour *= (1 + 0.52 * light) * (1 - dirt) * (1 - 0.55 * lap) * (1 + 0.2 * rim)
    worn = 1 - eaten
    return Maps(to_bytes(colour), to_bytes(worn), to_bytes(as_heights(fine)))


def _nails(fields: Fields, x: np.ndarray, down: np.ndarray, pitch: float):
    """(0..1 on the head of a nail, 0..1 around it): on every third crest, below each lap."""
    crest = np.rint(x)
    dx = np.where(crest % 3 == 0, (x - crest) * pitch, np.float32(1e3))
    far = np.hypot(dx, down - 16)
    return soft_step(-far, -5.4, -4.2), np.exp(-np.maximum(far - 5, 0) / 7)
