"""Clumped grain: the raised skin that a roller or a spray leaves on a wall, lit from the upper
left, around a neutral grey.
"""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class ClumpedSettings(Model):
    """size_px : of a clump. raised : how high they stand. joined : from separate clumps to a skin.
    fine : tooth on top of it.
    """

    size_px: float = setting(
        13, "Clumps", "", "made_number", unit="px", soft=(5, 60), ge=3, le=400, step=0.5
    )
    raised: float = setting(0.5, "Raised", "", "share", ge=0, le=1)
    joined: float = setting(0.5, "Joined", "From drops to a skin.", "share", ge=0, le=1)
    fine: float = setting(0.4, "Fine tooth", "On top of it.", "share", ge=0, le=1)


@maker(
    "clumped",
    title="Clumped grain",
    good_for="a coat in soft light, or a map to follow",
    settings=ClumpedSettings,
    group="Grain and specks",
    starts={
        "Rolled wall": {},
        "Orange peel": {"size_px": 18.0, "joined": 0.95, "fine": 0.05, "raised": 0.4},
        "Rough cast": {"size_px": 26.0, "joined": 0.15, "fine": 0.9, "raised": 0.9},
    },
    gives=("colour", "height"),
)
def clumped(settings: ClumpedSettings, fields: Fields) -> Maps:
    """Grey, and its relief."""
    size = settings.size_px
    blobs = fields.band(size, 0.42) + 0.45 * fields.band(2.3 * size, 0.5)
    even = fields.swell(14 * size, 1.2)
    blobs += 0.25 * even
    gap = 0.9 - 1.5 * settings.joined
    domes = np.sqrt(soft_step(blobs, gap - 0.5, gap + 1.9))  # steep at the foot, round on top
    skin = 0.5 + 0.22 * np.tanh(blobs)
    heights = settings.joined * skin + (1 - settings.joined) * domes
    tooth = settings.fine * (0.05 * fields.cloud(5, 0.9) + 0.02 * fields.band(2.6, 0.5))
    relief = fields.blurred(0.42 * size * (heights + tooth * size / 13), 0.7)
    light = np.tanh(1.1 * settings.raised * 2 * lit(fields, relief))
    tone = 0.5 + 0.24 * light + 0.07 * settings.raised * (heights - heights.mean())
    tone += 0.012 * even + 0.012 * fields.band(2.2, 0.5)
    tone += np.float32(128.4 / 255) - tone.mean()
    return Maps(to_bytes(tone), height=to_bytes(as_heights(relief)))
