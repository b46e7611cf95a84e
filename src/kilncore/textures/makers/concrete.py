"""Concrete: cement paste in soft clouds, sand, pinholes, a few hairline cracks."""

from typing import Any

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.marks import strewn_cracks, strewn_lines, strewn_pits
from kilncore.textures.makers.spectra import Fields, mixed, slope_light, soft_step, to_bytes


class ConcreteSettings(Model):
    """All shares, 0 to 1."""

    tone: float = setting(0.5, "Tone", "Dark to light.", "share", ge=0, le=1)
    pinholes: float = setting(0.5, "Pinholes", "How many holes left by air.", "share", ge=0, le=1)
    cracks: float = setting(0.4, "Cracks", "How many hairline cracks.", "share", ge=0, le=1)
    stains: float = setting(0.5, "Stains", "How blotchy the paste is.", "share", ge=0, le=1)


@maker("concrete", title="Concrete", good_for="a ground, or a coat", settings=ConcreteSettings)
def concrete(settings: ConcreteSettings, width: int, height: int, seed: int) -> np.ndarray:
    """(1, height, width) uint8."""
    fields = Fields(width, height, seed)
    rng = fields.rng
    sand = fields.band(3.2, 0.45) * (0.75 + 0.25 * fields.cloud(90))
    lumps = fields.cloud(40, 1.7, shortest=4)
    holes = _holes(rng, width, height, settings.pinholes)
    crack, lips = _cracks(fields, settings.cracks)
    relief = 0.55 * sand + 0.9 * lumps - 5 * holes - 2.2 * crack
    light = slope_light(relief)
    tone = (
        0.5
        + 0.06 * fields.cloud(700, 1.5) * (0.4 + 1.2 * settings.stains)
        + 0.045 * fields.cloud(120, 1.2)
    )
    tone += 0.05 * np.tanh(light * 1.3) + 0.03 * fields.band(2.6, 0.5) + 0.025 * lumps
    tone += _lime(fields) * (0.03 + 0.09 * settings.stains)
    tone -= _grit(rng, width, height) * 0.2
    tone += strewn_lines(rng, width, height, 26, 90, 0.5, bend=0.25) * 0.05
    tone *= 1 - 0.78 * soft_step(holes, 0.0, 0.55)
    tone += 0.10 * _far_rim(holes)
    tone *= 1 - 0.6 * crack
    tone += 0.05 * lips
    return to_bytes(
        mixed(
            np.clip(tone + (settings.tone - 0.5) * 0.5, 0, 1),
            (44, 43, 42),
            (104, 101, 97),
            (158, 154, 147),
            (201, 197, 189),
            (236, 233, 226),
        )
    )


def _holes(rng: Any, width: int, height: int, amount: float):
    small = strewn_pits(rng, width, height, 20 + 620 * amount, 0.8, 4, 2.6)
    large = strewn_pits(rng, width, height, 4 + 60 * amount, 3, 17, 2.4)
    return np.maximum(0.75 * small, large)


def _cracks(fields: Fields, amount: float):
    """(crack, lips), 0..1: hairlines, and the pale worn rim along them."""
    crack = strewn_cracks(fields.rng, fields.width, fields.height, 3.2 * amount, 420, 0.95)
    lips = np.clip(fields.blurred(crack, 2.2) * 2.2, 0, 1) * (1 - crack)
    return crack, lips


def _lime(fields: Fields):
    """Whitish bloom in patches, broken up by the grain."""
    return soft_step(fields.cloud(300, 1.4) + 0.5 * fields.cloud(20, 0.8), 0.9, 2.6)


def _far_rim(holes: np.ndarray):
    """The side of a hole that faces the light."""
    return np.clip(np.roll(holes, (2, 2), (0, 1)) - holes, 0, 1) * soft_step(0.4 - holes, 0, 0.4)


def _grit(rng: Any, width: int, height: int):
    """Dark sand grains."""
    return strewn_pits(rng, width, height, 1500, 0.6, 2.2, 3)
