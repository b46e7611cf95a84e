"""Blotches: noise, blurred and cut into two tones, as grungy dots, mould and islands of ink."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.tones import to_bytes


class BlotchesSettings(Model):
    """size_px : of a blotch. share : of the area that is dark. ragged : how far its edge wanders.
    gathered : how far they keep together. soft_px : of the edge.
    """

    size_px: float = setting(
        22, "Blotches", "", "made_number", unit="px", soft=(4, 160), ge=2, le=1000, step=0.5
    )
    share: float = setting(0.3, "Dark", "Of the area.", "share", ge=0, le=1)
    ragged: float = setting(0.5, "Ragged", "", "share", ge=0, le=1)
    gathered: float = setting(0.4, "Gathered", "", "share", ge=0, le=1)
    soft_px: float = setting(
        1, "Soft edge", "", "made_number", unit="px", soft=(1, 20), ge=1, le=200, step=0.5
    )


@maker(
    "blotches",
    title="Blotches",
    good_for="a mask to wear with",
    settings=BlotchesSettings,
    group="Grain and specks",
    starts={
        "Grungy dots": {},
        "Mould": {"size_px": 7.0, "share": 0.16, "gathered": 1.0, "ragged": 0.8},
        "Ink islands": {"size_px": 90.0, "share": 0.5, "ragged": 1.0, "gathered": 0.1},
    },
)
def blotches(settings: BlotchesSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8."""
    size, ragged = settings.size_px, settings.ragged
    field = fields.band(2.2 * size, 0.45) + ragged * 0.6 * fields.cloud(size, 1.2)
    field += 0.16 * ragged * fields.band(max(3.0, size / 5), 0.5)
    field += 1.5 * settings.gathered * fields.swell(14 * size, 1.7)
    level = np.quantile(field[::3, ::3], 1 - settings.share)
    # an edge is as wide as asked for, whatever the slope there
    slope = np.hypot(np.gradient(field, axis=0), np.gradient(field, axis=1))
    slope = np.maximum(fields.blurred(slope, 2) * np.float32(fields.scale), 1e-4)
    dark = (field - level) / (slope * max(settings.soft_px, 1 / fields.scale)) + 0.5
    if settings.share in (0, 1):
        dark = np.full_like(field, settings.share)
    return to_bytes(0.97 - 0.93 * np.clip(dark, 0, 1))
