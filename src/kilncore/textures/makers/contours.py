"""Contours: the lines of a map, each at one height, every fifth one thicker."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights
from kilncore.textures.makers.parts.tones import to_bytes


class ContoursSettings(Model):
    """hill_px : of a hill. levels : lines from the lowest to the highest. thick_px : of a line.
    rough : how far hills are eroded. main : how much thicker every fifth line is.
    """

    hill_px: float = setting(
        420, "Hills", "", "made_number", unit="px", soft=(80, 2000), ge=40, le=8000, step=10
    )
    levels: int = setting(22, "Lines", "From low to high.", "count", ge=2, le=120)
    thick_px: float = setting(
        1.6, "Thick", "", "made_number", unit="px", soft=(0.5, 8), ge=0.3, le=60, step=0.1
    )
    rough: float = setting(0.35, "Eroded", "", "share", ge=0, le=1)
    main: float = setting(0.5, "Every fifth", "How much thicker.", "share", ge=0, le=1)


@maker(
    "contours",
    title="Contours",
    good_for="a fill, or a coat",
    settings=ContoursSettings,
    group="Light and pattern",
    starts={
        "Chart": {},
        "Sea floor": {"hill_px": 900.0, "levels": 46, "thick_px": 0.9, "rough": 0.7},
        "Bold rings": {"levels": 9, "thick_px": 5.0, "rough": 0.0, "main": 0.0},
    },
    gives=("colour", "height"),
)
def contours(settings: ContoursSettings, fields: Fields) -> Maps:
    """Dark lines on white, and the land they tell of."""
    size = settings.hill_px
    land = fields.cloud(size, 3.1 - 0.9 * settings.rough, shortest=0.05 * size)
    low, high = float(land.min()), float(land.max())
    level = (land - low) * np.float32(settings.levels / max(high - low, 1e-6))
    across = (np.roll(level, -1, 1) - np.roll(level, 1, 1)) / 2
    down = (np.roll(level, -1, 0) - np.roll(level, 1, 0)) / 2
    slope = np.maximum(np.hypot(across, down), 1e-5)  # levels to a px
    nearest = np.rint(level)
    off = np.abs(level - nearest) / slope
    fifth = nearest % 5 == 0
    half = 0.5 * fields.scale * settings.thick_px * np.where(fifth, 1 + 1.4 * settings.main, 1.0)
    ink = np.clip(half - off + 0.5, 0, 1) * np.clip(2 * half, 0, 1)
    # on a plain a line would fill all of it
    ink *= np.clip(slope * 60, 0, 1)
    return Maps(to_bytes(0.97 - 0.92 * ink), height=to_bytes(as_heights(land)))
