"""Rust: iron that has rusted in patches, pitted, with runs below; bare or painted steel around."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.runs import run_down
from kilncore.textures.makers.parts.tones import mix, ramp, soft_step, to_bytes

STEELS = {
    "bare": ("Bare steel", (52, 54, 57), (112, 115, 118), (168, 171, 173)),
    "grey": ("Grey paint", (84, 90, 92), (138, 145, 145), (178, 184, 182)),
    "black": ("Black paint", (18, 19, 21), (38, 40, 43), (70, 73, 77)),
}
CHOICES = tuple((name, told[0]) for name, told in STEELS.items())
OLD = ((30, 20, 18), (58, 36, 28), (92, 56, 38), (128, 80, 52), (158, 110, 78))
FRESH = ((52, 24, 12), (104, 48, 18), (152, 78, 26), (190, 112, 44), (212, 148, 84))


class RustSettings(Model):
    """spread : the share that has rusted. patch_px : of a patch. fresh : from old and brown to
    fresh and orange. pitted : how deep. runs_px : how far rust has run.
    """

    steel: str = setting("bare", "On", "", "made_choice", choices=CHOICES)
    spread: float = setting(0.5, "Spread", "How much has rusted.", "share", ge=0, le=1)
    patch_px: float = setting(
        140, "Patches", "", "made_number", unit="px", soft=(20, 500), ge=10, le=2000, step=5
    )
    fresh: float = setting(0.4, "Fresh", "From brown to orange.", "share", ge=0, le=1)
    pitted: float = setting(0.5, "Pitted", "", "share", ge=0, le=1)
    runs_px: float = setting(
        120, "Runs", "", "made_number", unit="px", soft=(0, 500), ge=0, le=3000, step=5
    )


@maker(
    "rust",
    title="Rust",
    good_for="a ground, or a mask",
    settings=RustSettings,
    group="Damage",
    starts={
        "Ship's plate": {},
        "All of it": {"spread": 1.0, "fresh": 0.25, "pitted": 0.9, "runs_px": 0.0},
        "Painted, first spots": {"steel": "grey", "spread": 0.12, "patch_px": 45.0, "fresh": 0.8},
    },
    gives=("colour", "worn", "height"),
)
def rust(settings: RustSettings, fields: Fields) -> Maps:
    """Steel with rust on it."""
    size = settings.patch_px
    rough = fields.cloud(0.45 * size, 1.2)
    spreads = fields.swell(2.6 * size, 1.7) + 0.42 * rough + 0.10 * fields.band(5, 0.6)
    level = np.quantile(spreads[::3, ::3], 1 - settings.spread)
    over = spreads - level if 0 < settings.spread < 1 else spreads + 9 * (2 * settings.spread - 1)
    eaten = soft_step(over, -0.05, 0.14)
    scale = fields.cloud(22, 1.3)
    grain = fields.cloud(5, 0.8)
    pits = settings.pitted * soft_step(fields.band(11, 0.5) + 0.5 * scale, 0.5, 2.0) * eaten
    relief = eaten * (1.4 + 0.9 * np.tanh(over) + 0.55 * scale + 0.45 * grain) - 3.4 * pits
    relief = fields.blurred(relief, 0.6)
    light = np.tanh(0.8 * lit(fields, relief))
    colour = _steel(settings, fields, grain)
    if settings.runs_px:
        _run(settings, fields, eaten, colour)
    tone = 0.44 + 0.09 * fields.swell(180, 1.5) + 0.10 * scale + 0.055 * grain - 0.20 * pits
    fresh = soft_step(over + 0.35 * rough, 0.9, 0.05) if settings.spread < 1 else 0 * over
    fresh = np.clip(2 * settings.fresh * (0.25 + 0.75 * fresh) + 0.18 * fields.cloud(60, 1.3), 0, 1)
    rusty = mix(ramp(tone, *OLD), ramp(tone, *FRESH), fresh)
    rusty *= 1 + 0.30 * light
    # paint and scale lift at the rim, and are dark beneath
    rim = np.exp(-(((over - 0.02) / 0.05) ** 2))
    colour *= 1 - 0.35 * rim
    mix(colour, rusty, eaten)
    worn = 1 - eaten * (1 - 0.12 * soft_step(grain, 0.5, 2))
    return Maps(to_bytes(colour), to_bytes(worn), to_bytes(as_heights(relief)))


def _steel(settings: RustSettings, fields: Fields, grain: np.ndarray) -> np.ndarray:
    tone = 0.5 + 0.10 * fields.swell(420, 1.6) + 0.02 * grain
    tone += 0.035 * fields.band(3.4, 0.5, stretch=9)
    return ramp(tone, *STEELS[settings.steel][1:])


def _run(settings: RustSettings, fields: Fields, eaten: np.ndarray, colour: np.ndarray) -> None:
    """Stains below what has rusted."""
    source = eaten * soft_step(fields.cloud(30, 1.1, stretch=1.6), -0.2, 1.3)
    ran = run_down(fields, source, 0.2 * settings.runs_px, settings.runs_px)
    ran = fields.blurred(ran, 1.4) * (0.75 + 0.25 * np.tanh(fields.band(9, 0.7, stretch=0.1)))
    stained = np.clip(0.62 * ran * (1 - eaten), 0, 0.85)
    for plane, stain in zip(colour, (132, 78, 42), strict=True):
        plane += stained * (plane * np.float32(stain / 165) - plane)
