"""Creases: paper that was crumpled, folded and worn along its folds."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.cells import cells
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class CreasesSettings(Model):
    """facet_px : between two creases. crumpled : how deep. folds : times it was folded each way.
    rubbed : how far creases are rubbed bare.
    """

    facet_px: float = setting(
        130, "Facets", "", "made_number", unit="px", soft=(30, 500), ge=15, le=2000, step=5
    )
    crumpled: float = setting(0.55, "Crumpled", "", "share", ge=0, le=1)
    folds: int = setting(0, "Folds", "Each way.", "count", ge=0, le=8)
    rubbed: float = setting(0.4, "Rubbed", "Bare along creases.", "share", ge=0, le=1)


@maker(
    "creases",
    title="Creases",
    good_for="a coat over everything, or a mask",
    settings=CreasesSettings,
    group="Damage",
    starts={
        "Crumpled": {},
        "Folded map": {"folds": 2, "crumpled": 0.15, "rubbed": 0.75},
        "Smoothed out": {"facet_px": 70.0, "crumpled": 0.25, "rubbed": 0.2},
    },
    gives=("colour", "worn", "height"),
)
def creases(settings: CreasesSettings, fields: Fields) -> Maps:
    """A light grey sheet."""
    size = settings.facet_px
    relief = np.zeros((fields.height, fields.width), np.float32)
    edge = np.full_like(relief, 1e3)
    for share in (1.0, 0.46, 0.2):  # large facets, broken again
        facets, border = _facets(fields, size * share)
        relief += settings.crumpled * facets * size * share**0.8
        ripped = soft_step(fields.swell(2.2 * size * share, 1.5), -0.5 + 0.9 * (1 - share), 1.2)
        edge = np.minimum(edge, border + 60 * (1 - ripped))
    folded = _folds(fields, settings.folds)
    relief += 5 * np.exp(-np.abs(folded) / 7)
    relief = fields.blurred(relief, 0.9)
    light = np.tanh(1.5 * lit(fields, relief))
    tooth = fields.cloud(8, 0.9)
    bare = settings.crumpled**0.5 * np.exp(-np.maximum(edge - 0.4, 0) / 1.3)
    along = np.exp(-np.maximum(np.abs(folded) - 1.2, 0) / 2.6)
    torn = np.maximum(bare * 0.9, along) * 1.25 + 0.25 * tooth + 0.2 * fields.cloud(50, 1.3)
    torn = settings.rubbed * soft_step(torn, 1.05 - 0.55 * settings.rubbed, 1.5)
    tone = 0.79 + 0.15 * light + 0.011 * fields.swell(300, 1.5) + 0.008 * tooth
    tone += 0.17 * torn * (0.8 + 0.2 * tooth)
    crossed = along * soft_step(np.roll(tooth, 5), 0.2, 1.6) * settings.rubbed
    tone -= 0.20 * crossed
    worn = 1 - np.maximum(torn * 1.4, 0.8 * crossed)
    return Maps(to_bytes(tone), to_bytes(worn), to_bytes(as_heights(relief)))


def _facets(fields: Fields, size: float) -> tuple[np.ndarray, np.ndarray]:
    """(heights of flat facets that meet in creases, in shares of their size; px to a crease)."""
    bend = [0.07 * size * fields.cloud(1.5 * size, 2.2, shortest=0.3 * size) for _ in range(2)]
    found = cells(fields, size, *bend, jitter=1.0)
    tilt = fields.rng.normal(0, 0.22, (2, found.xs.size)).astype(np.float32)
    # each facet leans its own way, and all come down to one height where they meet
    lean = found.of_each(tilt[0] + tilt[1] * 0.5)
    ridge = np.minimum(found.apart / np.float32(size), 0.4)
    return lean * ridge * 2.2 + 0.10 * ridge, found.apart


def _folds(fields: Fields, times: int) -> np.ndarray:
    """(H, W) float32: px to the nearest fold; far away where there is none."""
    far = np.full((fields.height, fields.width), 1e3, np.float32)
    if not times:
        return far
    for axis in (0, 1):
        side = (fields.height, fields.width)[axis]
        pitch = side / times
        at = np.arange(side, dtype=np.float32) + np.float32(0.5 * pitch)
        at = at[:, None] if axis == 0 else at[None]
        sway = np.float32(2.2 * fields.scale) * fields.cloud(700, 2.2, shortest=40)
        off = np.abs((at + sway) % pitch - pitch / 2) / np.float32(fields.scale)
        far = np.minimum(far, off)
    return far
