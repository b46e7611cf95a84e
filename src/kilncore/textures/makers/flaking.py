"""Flaking paint: it splits into cells, what no longer holds falls off, and iron rusts where it is
bare.
"""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.cells import cells
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, from_edge, lit
from kilncore.textures.makers.parts.runs import run_down
from kilncore.textures.makers.parts.tones import mix, ramp, soft_step, to_bytes

PAINTS = {
    "hull": ("Hull blue", (38, 66, 92), (58, 92, 120), (96, 126, 146)),
    "cream": ("Sign cream", (196, 182, 146), (224, 212, 180), (238, 230, 208)),
    "oxide": ("Oxide red", (104, 38, 30), (138, 54, 42), (166, 84, 66)),
    "deck": ("Deck green", (44, 72, 60), (66, 98, 82), (104, 130, 112)),
}
CHOICES = tuple((name, told[0]) for name, told in PAINTS.items())
RUST = ((42, 28, 24), (76, 46, 34), (112, 66, 44), (146, 90, 56), (176, 128, 88))
PALER = ((58, 50, 46), (94, 82, 74), (130, 108, 92), (150, 122, 100), (178, 158, 136))
REACH = 48  # px: how far from an edge paint tells that it ends
LIGHT_PX = 3  # how far the shadow of an edge falls


class FlakingSettings(Model):
    """gone : the share that is bare. flake_px : of a flake. curl : how far edges stand up, 0..1.
    stain : how far rust has run into the paint, 0..1.
    """

    paint: str = setting("hull", "Paint", "", "made_choice", choices=CHOICES)
    gone: float = setting(0.35, "Gone", "How much has fallen off.", "share", ge=0, le=1)
    flake_px: float = setting(
        60, "Flakes", "", "made_number", unit="px", soft=(15, 200), ge=8, le=600, step=1
    )
    curl: float = setting(0.5, "Curled edges", "", "share", ge=0, le=1)
    stain: float = setting(0.5, "Rust stains", "", "share", ge=0, le=1)


@maker(
    "flaking",
    title="Flaking paint",
    good_for="a ground, or a mask",
    settings=FlakingSettings,
    group="Damage",
    starts={
        "Old hull": {},
        "Sign, just going": {"paint": "cream", "gone": 0.12, "flake_px": 34.0, "stain": 0.35},
        "Nearly bare": {
            "paint": "oxide",
            "gone": 0.72,
            "flake_px": 90.0,
            "curl": 0.8,
            "stain": 0.8,
        },
    },
    gives=("colour", "worn", "height"),
    revision=2,
)
def flaking(settings: FlakingSettings, fields: Fields) -> Maps:
    """Paint over rusty iron."""
    edge, cracks = _paint_left(fields, settings)
    bare = soft_step(-edge, -0.6, 0.6)
    paint = _painted(fields, settings, edge, cracks)
    metal = _rusty(fields, edge)
    relief = (
        np.clip(edge, -2, 3)
        + settings.curl * 4 * np.exp(-np.abs(edge - 3) / 4)
        - 2 * cracks * (1 - bare)
    )
    colour = to_bytes(mix(paint, metal, bare))
    worn = to_bytes((1 - bare) * (1 - 0.8 * cracks))
    return Maps(colour, worn=worn, height=to_bytes(as_heights(relief)))


def _paint_left(fields: Fields, settings: FlakingSettings) -> tuple[np.ndarray, np.ndarray]:
    """(px to the edge of the paint, positive on it; cracks 0..1)."""
    size, rng = settings.flake_px, fields.rng
    shifts = [0.16 * size * fields.cloud(size * 1.2, 1.7, shortest=7) for _ in range(2)]
    split = cells(fields, size, *shifts)
    loose = fields.swell(6 * size, 1.6)
    at = split.ys.astype(int) % fields.height, split.xs.astype(int) % fields.width
    holds = loose[at] + 0.55 * rng.standard_normal(split.xs.size)
    # of each px: its cell's hold, uneven within it, so that flakes break as well as part
    hold = split.of_each(holds) + 0.32 * fields.cloud(0.7 * size, 1.5)
    least = np.quantile(hold[::3, ::3], settings.gone) if settings.gone else -np.inf
    edge = from_edge(fields, hold >= least, REACH)
    edge += 0.9 * fields.band(5, 0.6) + 0.016 * size * fields.band(size / 4, 0.6)
    opened = soft_step(least + 1.9 - hold, 0, 1.7)  # cracks open where paint will soon be gone
    cracks = soft_step(1.3 * opened + 0.7 - split.apart, 0, 0.8) * soft_step(opened, 0.02, 0.4)
    return edge, cracks


def _painted(
    fields: Fields, settings: FlakingSettings, edge: np.ndarray, cracks: np.ndarray
) -> np.ndarray:
    dark, middle, pale = PAINTS[settings.paint][1:]
    relief = np.clip(edge, -2, 2) + settings.curl * 5 * np.exp(-np.abs(edge - 3) / 4)
    relief += 0.10 * fields.cloud(90, 1.8, shortest=4)  # brush marks and runs under it
    light = lit(fields, fields.blurred(relief, 0.8))
    tone = 0.5 + 0.10 * fields.swell(500, 1.4) + 0.035 * fields.cloud(40, 1.0)
    tone += 0.03 * fields.band(3, 0.5) + 0.05 * fields.swell(120, 1.3, stretch=0.12)
    tone += 0.16 * settings.curl * np.exp(-(((edge - 2.5) / 3) ** 2))  # rims are bleached
    colour = ramp(np.clip(tone, 0, 1), dark, middle, pale)
    shade = 1 + np.clip(0.22 * light, -0.3, 0.4)
    stain = (
        settings.stain
        * np.exp(-np.maximum(edge, 0) / 9)
        * soft_step(fields.cloud(60, 1.4), -0.9, 1.2)
    )
    run = settings.stain * _runs(fields, edge)
    stained = np.clip(0.75 * stain + run, 0, 0.85)
    for plane, rust in zip(colour, (118, 66, 36), strict=True):
        plane *= shade
        plane += stained * (plane * np.float32(rust / 150) - plane)
        plane *= 1 - 0.72 * cracks
    return colour


def _runs(fields: Fields, edge: np.ndarray) -> np.ndarray:
    """Rust that has run down from bare places: 0..1."""
    source = soft_step(-edge, 0, 6) * soft_step(fields.cloud(30, 1.2), 0.2, 1.6)
    run = run_down(fields, source, 40, 100)
    return 0.45 * fields.blurred(run, 1.6) * soft_step(edge, 0, 3)


def _rusty(fields: Fields, edge: np.ndarray) -> np.ndarray:
    tone = 0.42 + 0.13 * fields.swell(160, 1.5) + 0.10 * fields.cloud(24, 1.2)
    grain = fields.cloud(6, 0.9)
    tone += 0.07 * grain + 0.10 * soft_step(fields.band(9, 0.5), 0.8, 2.2)
    light = lit(fields, fields.blurred(np.clip(-edge, -3, 6) * -0.6 + 0.5 * grain, 0.7))
    older = soft_step(fields.swell(220, 1.5) + 0.4 * fields.cloud(30, 1.0), 0.3, 1.9)
    colour = ramp(np.clip(tone, 0, 1), *RUST)
    colour += older * (ramp(np.clip(tone + 0.06 * grain, 0, 1), *PALER) - colour)
    # the edge of the paint throws a shadow, and dirt lies under it
    falls = round(LIGHT_PX * fields.scale)
    thrown = np.roll(np.clip(edge + 1, 0, 3) / 3, (falls, falls), (0, 1))
    shade = (1 + np.clip(0.22 * light, -0.4, 0.4)) * (1 - 0.5 * thrown)
    shade *= 1 - 0.22 * np.exp(edge / 4.0) * (edge < 0)
    colour *= shade.astype(np.float32)
    return colour
