"""Water stains: tide marks where something dried, one over another, with dark rims."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.tones import soft_step, to_bytes

LIQUIDS = {
    "tea": ("Tea", (168, 112, 58)),
    "damp": ("Damp", (112, 110, 96)),
    "ink": ("Ink", (38, 58, 96)),
    "oil": ("Oil", (70, 52, 34)),
}
CHOICES = tuple((name, told[0]) for name, told in LIQUIDS.items())
TIMES = 4  # that it got wet


class StainSettings(Model):
    """size_px : of a stain. strength : of them all. rims : how dark they dried. fringed : how far
    edges feather along fibres. wet : the share that was wet.
    """

    liquid: str = setting("tea", "Of", "", "made_choice", choices=CHOICES)
    size_px: float = setting(
        340, "Stains", "", "made_number", unit="px", soft=(60, 1200), ge=30, le=4000, step=10
    )
    strength: float = setting(0.5, "Strength", "", "share", ge=0, le=1)
    rims: float = setting(0.6, "Rims", "How dark they dried.", "share", ge=0, le=1)
    fringed: float = setting(0.4, "Fringed", "", "share", ge=0, le=1)
    wet: float = setting(0.45, "Wet", "How much of it was.", "share", ge=0, le=1)


@maker(
    "stain",
    title="Water stains",
    good_for="a coat that multiplies",
    settings=StainSettings,
    group="Damage",
    starts={
        "Spilt tea": {},
        "Damp wall": {"liquid": "damp", "size_px": 900.0, "rims": 0.35, "wet": 0.7},
        "Old ink": {"liquid": "ink", "size_px": 160.0, "rims": 0.9, "fringed": 0.9, "wet": 0.2},
    },
    gives=("colour", "worn"),
)
def stain(settings: StainSettings, fields: Fields) -> Maps:
    """Stains on white."""
    size = settings.size_px
    fringe = settings.fringed * (0.05 * fields.cloud(24, 1.2) + 0.035 * fields.band(5, 0.6))
    wander = 0.10 * fields.cloud(0.25 * size, 1.5)
    dark = np.zeros((fields.height, fields.width), np.float32)
    for n in range(TIMES):
        field = fields.cloud(size * (1 - 0.14 * n), 2.1, shortest=0.05 * size) + wander + fringe
        level = np.quantile(field[::3, ::3], 1 - settings.wet * (0.75 - 0.14 * n))
        over = field - level  # in deviations of the field, from the edge inwards
        inside = soft_step(over, -0.012, 0.03)
        rim = np.exp(-np.maximum(over, 0) / 0.05) + 0.4 * np.exp(-np.maximum(over, 0) / 0.2)
        body = 0.30 + 0.10 * np.tanh(over)
        dark += (0.9 - 0.14 * n) * inside * (body + 0.85 * settings.rims * rim)
    if not settings.wet:
        dark[:] = 0
    dark *= 0.92 + 0.06 * fields.cloud(40, 1.2) + 0.05 * fields.band(3, 0.5)
    dark = 1 - np.exp(-1.15 * settings.strength * dark)
    colour = np.empty((3, *dark.shape), np.float32)
    for plane, stained in zip(colour, LIQUIDS[settings.liquid][1], strict=True):
        # thicker stains are darker than their colour
        plane[:] = np.power(np.float32(stained / 255), 1.25 * dark)
    return Maps(to_bytes(colour), worn=to_bytes(1 - dark))
