"""Squeegee: colour pulled down a screen, with streaks, chatter across, and where it ran dry."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.strewn import strewn_pits
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class SqueegeeSettings(Model):
    """streak_px : from one streak to the next. streaks : how strong. chatter : bars across, where
    the blade jumped. dry : how far the colour ran out.
    """

    streak_px: float = setting(
        34,
        "Streaks",
        "From one to the next.",
        "made_number",
        unit="px",
        soft=(8, 160),
        ge=4,
        le=900,
    )
    streaks: float = setting(0.55, "Strength", "Of the streaks.", "share", ge=0, le=1)
    chatter: float = setting(0.3, "Chatter", "Bars across.", "share", ge=0, le=1)
    dry: float = setting(0.4, "Dry", "How far it ran out.", "share", ge=0, le=1)


@maker(
    "squeegee",
    title="Squeegee",
    good_for="a mask, or ink in a coat",
    settings=SqueegeeSettings,
    group="Ink",
    starts={
        "One pull": {},
        "Dry pull": {"dry": 0.85, "streaks": 0.9, "streak_px": 20.0},
        "Jumping blade": {"chatter": 1.0, "dry": 0.3, "streaks": 0.3},
    },
)
def squeegee(settings: SqueegeeSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: black colour on white, pulled downwards."""
    size = settings.streak_px
    streak = fields.band(size, 0.7, stretch=1 / 45) + 0.6 * fields.band(
        0.3 * size, 0.5, stretch=1 / 120
    )
    streak += 0.35 * fields.band(3, 0.4, stretch=1 / 160)
    bars = fields.band(70, 0.5, stretch=30) + 0.4 * fields.band(16, 0.4, stretch=40)
    mesh = fields.band(3.4, 0.3)
    load = 0.5 * fields.swell(600, 1.7, stretch=0.35)
    low = 2.6 - 3.1 * settings.dry
    dry = load + settings.streaks * streak + 0.8 * settings.chatter * bars + 0.28 * mesh
    gone = soft_step(dry + 0.2 * fields.cloud(24, 1.1), low, low + 0.75)
    gone = np.maximum(gone * soft_step(mesh + 1.1 * dry, low - 0.9, low + 1.0), 0)
    holes = soft_step(strewn_pits(fields, 90 + 500 * settings.dry, 0.6, 4, 3.0), 0.1, 0.6)
    gone = np.maximum(gone, 0.9 * holes)
    tone = 0.10 + 0.05 * np.tanh(dry) + 0.01 * mesh + 0.05 * settings.chatter * np.tanh(bars)
    return to_bytes(tone + (0.975 - tone) * gone)
