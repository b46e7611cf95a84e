"""Film dust: specks, lint and hairs, and the long scratches of a reel."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.strewn import strewn_hairs, strewn_lines, strewn_pits
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class DustSettings(Model):
    """All shares, 0 to 1."""

    specks: float = setting(0.5, "Specks", "How many.", "share", ge=0, le=1)
    hairs: float = setting(0.4, "Hairs", "How many.", "share", ge=0, le=1)
    lint: float = setting(0.4, "Lint", "Short fibres.", "share", ge=0, le=1)
    scratches: float = setting(0.15, "Scratches", "Along the film.", "share", ge=0, le=1)
    haze: float = setting(0.3, "Haze", "The finest dust.", "share", ge=0, le=1)


@maker(
    "dust",
    title="Dust and hairs",
    good_for="a mask, or a coat",
    settings=DustSettings,
    group="Grain and specks",
    starts={
        "Old slide": {},
        "Hairs alone": {"specks": 0.1, "hairs": 1.0, "lint": 0.2, "scratches": 0.0, "haze": 0.0},
        "Worn reel": {"specks": 0.8, "hairs": 0.3, "lint": 0.6, "scratches": 1.0, "haze": 0.7},
    },
)
def dust(settings: DustSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: dark dust on white."""
    specks = soft_step(strewn_pits(fields, 30 + 900 * settings.specks**1.5, 0.6, 9, 3.0), 0.02, 0.5)
    where = soft_step(fields.swell(260, 1.5), -1.2, 0.8)  # it settles in patches
    dark = specks * (0.35 + 0.65 * where)
    if settings.hairs:
        hairs = strewn_hairs(fields, 22 * settings.hairs, 260, 0.75)
        dark = np.maximum(dark, 0.95 * hairs)
    if settings.lint:
        lint = strewn_lines(fields, 320 * settings.lint, 20, 0.55, bend=1.8)
        dark = np.maximum(dark, 0.85 * lint)
    if settings.scratches:
        upright = strewn_lines(
            fields, 26 * settings.scratches, 900, 0.6, np.pi / 2, 0.004, bend=0.01
        )
        broken = soft_step(fields.cloud(70, 1.0, stretch=0.2), -1.1, 0.2)
        dark = np.maximum(dark, 0.9 * upright * broken)
    haze = soft_step(fields.band(3.2, 0.5) + 0.7 * fields.swell(120, 1.2), 1.9, 3.2)
    dark = np.maximum(dark, settings.haze * 0.75 * haze)
    return to_bytes(0.985 - 0.96 * dark - 0.02 * settings.haze * (1 - where))
