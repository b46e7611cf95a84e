"""Smudges: soot or graphite drawn out by a hand, powdery, with the lines of the skin in it."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.flow import flowed
from kilncore.textures.makers.parts.strewn import strewn_lines
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class SmudgeSettings(Model):
    """many : how many. length_px, width_px : of one. dirt : how dark. powder : how grainy."""

    many: float = setting(0.45, "How many", "", "share", ge=0, le=1)
    length_px: float = setting(
        210, "Length", "", "made_number", unit="px", soft=(40, 800), ge=20, le=4000, step=5
    )
    width_px: float = setting(
        64, "Width", "", "made_number", unit="px", soft=(15, 240), ge=6, le=1200, step=1
    )
    dirt: float = setting(0.5, "Dirt", "How dark.", "share", ge=0, le=1)
    powder: float = setting(0.5, "Powder", "How grainy.", "share", ge=0, le=1)


@maker(
    "smudge",
    title="Smudges",
    good_for="a coat that multiplies, or a mask",
    settings=SmudgeSettings,
    group="Ink",
    starts={
        "Handled proof": {},
        "Thumb marks": {"length_px": 70.0, "width_px": 78.0, "many": 0.6, "powder": 0.3},
        "Stoker's sleeve": {"length_px": 520.0, "width_px": 150.0, "dirt": 0.9, "powder": 0.7},
    },
)
def smudge(settings: SmudgeSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: grey smears on white."""
    long, half = settings.length_px, settings.width_px / 2
    ridges = fields.band(5.5, 0.35) + 0.5 * fields.band(2.8, 0.5)
    drawn = np.zeros((fields.height, fields.width), np.float32)
    for angle in fields.rng.uniform(0, np.pi, 3):
        smears = strewn_lines(fields, 1 + 60 * settings.many, long, half, angle, 0.25, bend=0.5)
        smears = np.maximum(fields.blurred(smears, 0.5 * half), 0)  # a blur may ring below 0
        # dirt is carried along the way of the hand, and less and less of it
        pulled = fields.cloud(60, 1.0)
        for step in (0.5, 0.25, 0.12, 0.06):
            off = long * 0.35 * step
            pulled = 0.5 * (
                pulled + flowed(fields, pulled, off * np.cos(angle), off * np.sin(angle))
            )
        carried = soft_step(0.9 * pulled / max(float(pulled.std()), 1e-6), -1.6, 1.8)
        drawn += smears**1.4 * (0.1 + 0.9 * carried)
    tooth = soft_step(ridges + 1.2 * fields.cloud(90, 1.3), -1.8, 1.6)
    dark = drawn * (1 - settings.powder + settings.powder * (0.25 + 0.95 * tooth))
    film = 0.05 * settings.dirt * soft_step(fields.swell(400, 1.6), -0.5, 2)
    return to_bytes(0.985 - (0.18 + 0.62 * settings.dirt) * np.clip(dark, 0, 1) - film)
