"""Faded grid: squared paper whose lines and cells have worn off in places."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class FadedGridSettings(Model):
    """cell_px : from line to line. line_px : of a line. faded : how much of it. filled : the share
    of cells that have a tone. main : every how many lines one is stronger, 1 for none.
    """

    cell_px: float = setting(
        40, "Cells", "", "made_number", unit="px", soft=(10, 200), ge=6, le=1500, step=1
    )
    line_px: float = setting(
        1.5, "Lines", "", "made_number", unit="px", soft=(0.5, 10), ge=0.3, le=80, step=0.1
    )
    faded: float = setting(0.45, "Faded", "", "share", ge=0, le=1)
    filled: float = setting(0.2, "Filled", "Cells with a tone.", "share", ge=0, le=1)
    main: int = setting(5, "Stronger", "Every so many lines.", "count", ge=1, le=20)


@maker(
    "fadedgrid",
    title="Faded grid",
    good_for="a coat, or a mask",
    settings=FadedGridSettings,
    group="Light and pattern",
    starts={
        "Squared paper": {},
        "Worn tiles": {"cell_px": 90.0, "line_px": 4.0, "filled": 0.7, "faded": 0.6, "main": 1},
        "Plan": {"cell_px": 22.0, "line_px": 0.8, "faded": 0.2, "filled": 0.0, "main": 10},
    },
)
def fadedgrid(settings: FadedGridSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: dark lines on white."""
    size = settings.cell_px * fields.scale
    columns, rows = max(1, round(fields.width / size)), max(1, round(fields.height / size))
    half = 0.5 * settings.line_px * fields.scale
    ink = np.maximum(
        _ruled(fields.height, rows, half, settings.main)[:, None],
        _ruled(fields.width, columns, half, settings.main)[None],
    )
    tones = fields.rng.uniform(0.12, 0.55, (rows, columns)).astype(np.float32)
    tones *= fields.rng.random((rows, columns)) < settings.filled
    y = np.arange(fields.height) * rows // fields.height
    x = np.arange(fields.width) * columns // fields.width
    ink = np.maximum(ink, tones[y[:, None], x[None]])
    worn = fields.swell(300, 1.5) + 0.6 * fields.cloud(40, 1.2) + 0.45 * fields.cloud(7, 0.8)
    level = 2.6 - 4.0 * settings.faded
    gone = soft_step(worn, level - 0.55, level + 0.55)
    specks = soft_step(fields.band(3, 0.5) + 0.5 * worn, 2.4 - settings.faded, 2.9)
    ink = ink * (1 - 0.97 * gone) * (1 - 0.9 * specks)
    return to_bytes(0.975 - 0.88 * ink)


def _ruled(side: int, count: int, half: float, main: int) -> np.ndarray:
    """0..1 along one side: lines between cells, stronger every so many."""
    at = (np.arange(side) + 0.5) * count / side
    nearest = np.rint(at)
    strong = (nearest % count) % main == 0 if main > 1 else np.ones(side, bool)
    wide = np.where(strong, half, 0.6 * half)
    off = np.abs(at - nearest) * side / count
    drawn = np.clip(wide - off + 0.5, 0, 1) * np.clip(2 * wide, 0.2, 1)
    return (drawn * np.where(strong, 1.0, 0.6)).astype(np.float32)
