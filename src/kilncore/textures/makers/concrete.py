"""Concrete: cement paste in soft clouds, sand, pinholes, a few hairline cracks."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.strewn import strewn_cracks, strewn_lines, strewn_pits
from kilncore.textures.makers.parts.tones import ramp, soft_step, to_bytes

GREYS = ((44, 43, 42), (104, 101, 97), (158, 154, 147), (201, 197, 189), (236, 233, 226))


class ConcreteSettings(Model):
    """All shares, 0 to 1."""

    tone: float = setting(0.5, "Tone", "Dark to light.", "share", ge=0, le=1)
    pinholes: float = setting(0.5, "Pinholes", "How many holes left by air.", "share", ge=0, le=1)
    cracks: float = setting(0.4, "Cracks", "How many hairline cracks.", "share", ge=0, le=1)
    stains: float = setting(0.5, "Stains", "How blotchy the paste is.", "share", ge=0, le=1)


@maker(
    "concrete",
    title="Concrete",
    good_for="a ground, or a coat",
    settings=ConcreteSettings,
    group="Materials",
    starts={
        "Cast wall": {},
        "Smooth floor": {"tone": 0.62, "pinholes": 0.1, "cracks": 0.15, "stains": 0.35},
        "Old quay": {"tone": 0.36, "pinholes": 1.0, "cracks": 1.0, "stains": 1.0},
    },
    gives=("colour", "height"),
    revision=2,
)
def concrete(settings: ConcreteSettings, fields: Fields) -> Maps:
    """Cast concrete."""
    sand = fields.band(3.2, 0.45) * (0.75 + 0.25 * fields.cloud(90))
    lumps = fields.cloud(40, 1.7, shortest=4)
    holes = _holes(fields, settings.pinholes)
    crack, lips = _cracks(fields, settings.cracks)
    relief = 0.55 * sand + 0.9 * lumps - 5 * holes - 2.2 * crack
    light = lit(fields, relief)
    tone = (
        0.5
        + 0.06 * fields.swell(700, 1.5) * (0.4 + 1.2 * settings.stains)
        + 0.045 * fields.swell(120, 1.2)
    )
    tone += 0.05 * np.tanh(light * 1.3) + 0.03 * fields.band(2.6, 0.5) + 0.025 * lumps
    tone += _lime(fields) * (0.03 + 0.09 * settings.stains)
    tone -= _grit(fields) * 0.2
    tone += strewn_lines(fields, 26, 90, 0.5, bend=0.25) * 0.05
    tone *= 1 - 0.78 * soft_step(holes, 0.0, 0.55)
    tone += 0.10 * _far_rim(fields, holes)
    tone *= 1 - 0.6 * crack
    tone += 0.05 * lips
    colour = ramp(tone + (settings.tone - 0.5) * 0.5, *GREYS)
    height = as_heights(lumps + 0.3 * sand - 4 * holes - 2 * crack)
    return Maps(to_bytes(colour), height=to_bytes(height))


def _holes(fields: Fields, amount: float):
    small = strewn_pits(fields, 20 + 620 * amount, 0.8, 4, 2.6)
    large = strewn_pits(fields, 4 + 60 * amount, 3, 17, 2.4)
    return np.maximum(0.75 * small, large)


def _cracks(fields: Fields, amount: float):
    """(crack, lips), 0..1: hairlines, and the pale worn rim along them."""
    crack = strewn_cracks(fields, 7 * amount, 420, 0.95)
    lips = np.clip(fields.blurred(crack, 2.2) * 2.2, 0, 1) * (1 - crack)
    return crack, lips


def _lime(fields: Fields):
    """Whitish bloom in patches, broken up by the grain."""
    return soft_step(fields.swell(300, 1.4) + 0.5 * fields.cloud(20, 0.8), 0.9, 2.6)


def _far_rim(fields: Fields, holes: np.ndarray):
    """The side of a hole that faces the light."""
    return np.clip(
        np.roll(holes, (round(2 * fields.scale),) * 2, (0, 1)) - holes, 0, 1
    ) * soft_step(0.4 - holes, 0, 0.4)


def _grit(fields: Fields):
    """Dark sand grains."""
    return strewn_pits(fields, 1500, 0.6, 2.2, 3)
