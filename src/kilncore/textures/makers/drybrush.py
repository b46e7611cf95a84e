"""Dry brush: strokes of bristles that ran out of paint, over the tooth of their ground."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class DryBrushSettings(Model):
    """stroke_px : of the brush. bristle_px : of a clump of bristles. dry : how far it had run out.
    wander : how far strokes sway. tooth : how much the ground shows.
    """

    stroke_px: float = setting(
        150, "Strokes", "", "made_number", unit="px", soft=(40, 600), ge=20, le=3000, step=5
    )
    bristle_px: float = setting(
        5, "Bristles", "", "made_number", unit="px", soft=(2, 20), ge=1.5, le=100, step=0.5
    )
    dry: float = setting(0.5, "Dry", "How far it ran out.", "share", ge=0, le=1)
    wander: float = setting(0.35, "Sway", "", "share", ge=0, le=1)
    tooth: float = setting(0.45, "Tooth", "Of the ground.", "share", ge=0, le=1)


@maker(
    "drybrush",
    title="Dry brush",
    good_for="a mask, or ink in a coat",
    settings=DryBrushSettings,
    group="Ink",
    starts={
        "Half dry": {},
        "Last of the paint": {"dry": 0.85, "bristle_px": 7.0, "tooth": 0.6},
        "Loaded": {"dry": 0.12, "stroke_px": 220.0, "tooth": 0.2, "wander": 0.6},
    },
)
def drybrush(settings: DryBrushSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: black paint on white; strokes go across."""
    wide, hair = settings.stroke_px, settings.bristle_px
    sway = settings.wander * 0.5 * wide * fields.cloud(5 * wide, 2.2, stretch=2.5, shortest=wide)
    bristles = fields.band(2.2 * hair, 0.45, stretch=55) + 0.6 * fields.band(
        5 * hair, 0.5, stretch=40
    )
    bristles = _swayed(bristles + 0.35 * fields.band(1.3 * hair, 0.4, stretch=80), sway, fields)
    load = _swayed(fields.cloud(1.6 * wide, 1.5, stretch=4.5), sway, fields)
    tooth = fields.band(3.2, 0.5) + 0.6 * fields.cloud(9, 0.8)
    skips = fields.band(0.6 * wide, 0.6, stretch=0.7)
    held = 0.80 * load + 0.85 * bristles + 0.22 * skips
    held += settings.tooth * (0.75 * tooth)
    level = np.quantile(held[::3, ::3], 0.04 + 0.82 * settings.dry)
    ink = soft_step(held, level - 0.16, level + 0.2)
    thin = soft_step(held, level - 0.2, level + 1.4)  # where it was about to run out
    tone = 0.26 - 0.20 * thin + 0.02 * tooth + 0.03 * np.tanh(bristles)
    return to_bytes(0.98 + (np.clip(tone, 0.03, 1) - 0.98) * ink)


def _swayed(field: np.ndarray, sway: np.ndarray, fields: Fields) -> np.ndarray:
    """Each px read from as far down as its stroke has swayed; whole px are fine enough here."""
    height, width = field.shape
    rows = np.arange(height)[:, None] + np.rint(sway * fields.scale).astype(np.int32)
    return field[rows % height, np.arange(width)[None]]
