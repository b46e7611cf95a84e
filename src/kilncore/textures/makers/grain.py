"""Fine grain around a neutral grey, as film and coarse print have it: for overlays."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.tones import to_bytes


class GrainSettings(Model):
    """size_px : of a grain. clumped : how far grains gather. hard : from soft waves to specks of
    two tones. strength : of it.
    """

    size_px: float = setting(
        2.4, "Grain", "", "made_number", unit="px", soft=(1.5, 12), ge=1, le=60, step=0.1
    )
    strength: float = setting(0.5, "Strength", "", "share", ge=0, le=1)
    clumped: float = setting(0.35, "Clumped", "How far grains gather.", "share", ge=0, le=1)
    hard: float = setting(0.25, "Hard", "From waves to specks.", "share", ge=0, le=1)


@maker(
    "grain",
    title="Fine grain",
    good_for="a coat in soft light or overlay",
    settings=GrainSettings,
    group="Grain and specks",
    starts={
        "Film": {},
        "Film, pushed": {"size_px": 3.8, "strength": 0.8, "clumped": 0.6, "hard": 0.5},
        "Coarse print": {"size_px": 5.5, "strength": 0.7, "clumped": 0.1, "hard": 0.9},
    },
)
def grain(settings: GrainSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8, of mean 128."""
    size, clumped = settings.size_px, settings.clumped
    fine = fields.band(size * 1.25, 0.5)
    gathered = fields.band(5 * size, 0.7)
    coarse = fields.swell(16 * size, 1.0)
    field = fine * (1 + 0.55 * clumped * np.tanh(gathered)) + clumped * (
        0.45 * gathered + 0.25 * coarse
    )
    field /= field.std()
    steep = 1 + 5 * settings.hard**2
    specks = np.tanh(steep * field) / np.tanh(steep * 1.4)
    specks -= specks.mean()
    return to_bytes(128.4 / 255 + 0.30 * settings.strength * specks)
