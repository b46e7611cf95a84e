"""Pixel grid: squares of one size, each of its own tone, gathered or strewn."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.tones import to_bytes


class PixelGridSettings(Model):
    """cell_px : of a square. empty : the share that is white. gathered : how far dark ones keep
    together. levels : how many tones there are. gap : between squares, of their size.
    """

    cell_px: float = setting(
        16, "Squares", "", "made_number", unit="px", soft=(3, 80), ge=2, le=800, step=1
    )
    empty: float = setting(0.45, "Empty", "How many are white.", "share", ge=0, le=1)
    gathered: float = setting(0.6, "Gathered", "", "share", ge=0, le=1)
    levels: int = setting(5, "Tones", "", "count", ge=1, le=64)
    gap: float = setting(0.0, "Gap", "Of a square.", "share", ge=0, le=0.9)


@maker(
    "pixelgrid",
    title="Pixel grid",
    good_for="a mask, or a fill",
    settings=PixelGridSettings,
    group="Light and pattern",
    starts={
        "Breaking up": {},
        "Confetti": {"gathered": 0.0, "levels": 12, "empty": 0.3, "gap": 0.15},
        "Bitmap": {"cell_px": 6.0, "levels": 1, "empty": 0.6, "gathered": 0.8},
    },
)
def pixelgrid(settings: PixelGridSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: dark squares on white, some emptier than others."""
    size = settings.cell_px * fields.scale
    columns, rows = max(1, round(fields.width / size)), max(1, round(fields.height / size))
    coarse = Fields(max(columns, 2), max(rows, 2), int(fields.rng.integers(2**31)))
    where = coarse.cloud(max(columns, rows) / 5, 1.7)[:rows, :columns]
    own = coarse.rng.standard_normal((rows, columns))
    held = settings.gathered * where + (1.05 - settings.gathered) * own
    order = np.argsort(np.argsort(held, axis=None), axis=None) / held.size
    share = np.clip((order - settings.empty) / max(1 - settings.empty, 1e-6), 0, 1)
    drawn = np.ceil(share * coarse.rng.uniform(0.55, 1, share.size) * settings.levels)
    tone = (drawn / settings.levels).reshape(rows, columns).astype(np.float32)
    x = (np.arange(fields.width) + 0.5) * columns / fields.width
    y = (np.arange(fields.height) + 0.5) * rows / fields.height
    ink = tone[np.minimum(y.astype(int), rows - 1)[:, None], np.minimum(x.astype(int), columns - 1)]
    if settings.gap:
        inside = [_inside(at, settings.gap, size) for at in (y, x)]
        ink = ink * inside[0][:, None] * inside[1][None]
    return to_bytes(0.97 - 0.92 * ink)


def _inside(at: np.ndarray, gap: float, size: float) -> np.ndarray:
    """0..1 along one side: how far a px lies in its square, not in the gap around it."""
    off = np.abs(at % 1 - 0.5)
    return np.clip(((1 - gap) / 2 - off) * size + 0.5, 0, 1).astype(np.float32)
