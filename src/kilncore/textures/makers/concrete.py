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
    rough = soft_step(fields.swell(260, 1.5), -1.2, 1.8)  # where sand comes through the paste
    sand = fields.band(3.4, 0.5)
    stones = _stones(fields, rough)
    lumps = fields.cloud(40, 1.5, shortest=3)
    holes = _holes(fields, settings.pinholes)
    crack, lips = _cracks(fields, settings.cracks)
    relief = (0.35 + 0.8 * rough) * sand + 0.9 * lumps + 1.1 * stones - 5 * holes - 2.2 * crack
    light = np.tanh(0.8 * lit(fields, relief))
    tone = (
        0.5
        + 0.05 * fields.swell(700, 1.5) * (0.3 + 1.3 * settings.stains)
        + 0.022 * fields.swell(120, 1.2)
    )
    speckle = fields.band(3.8, 0.5)
    tone += (0.05 + 0.10 * rough) * light + 0.02 * speckle + 0.02 * lumps
    tone += (0.5 + 0.5 * rough) * (0.17 * soft_step(speckle, 1.0, 2.6))
    tone -= (0.4 + 0.6 * rough) * (0.19 * soft_step(-speckle, 1.0, 2.6))
    tone += (0.03 + 0.07 * fields.cloud(9, 0.8)) * stones
    tone += _lime(fields) * (0.03 + 0.09 * settings.stains)
    tone -= _grit(fields) * 0.2
    tone += strewn_lines(fields, 26, 90, 0.5, bend=0.25) * 0.05
    tone *= 1 - (0.62 + 0.12 * fields.cloud(60, 1.4)) * soft_step(holes, 0.0, 0.55)
    tone += 0.10 * _far_rim(fields, holes)
    tone *= 1 - 0.6 * crack
    tone += 0.05 * lips
    colour = ramp(tone + (settings.tone - 0.5) * 0.5, *GREYS)
    _tinted(colour, fields.swell(340, 1.5) * (0.4 + settings.stains))
    height = as_heights(lumps + 0.4 * sand * rough + 0.8 * stones - 4 * holes - 2 * crack)
    return Maps(to_bytes(colour), height=to_bytes(height))


def _stones(fields: Fields, rough: np.ndarray) -> np.ndarray:
    """Fine gravel, where the paste has worn off it: no two grains alike, as noise cut at its
    height leaves them.
    """
    grains = fields.band(8, 0.5) + 0.45 * fields.band(4, 0.5)
    return soft_step(grains + 1.6 * (rough - 1), 0.5, 1.1)


def _tinted(colour: np.ndarray, amount: np.ndarray) -> None:
    """Cement is here a little warmer, there a little colder."""
    for plane, way in zip(colour, (0.007, 0.001, -0.010), strict=True):
        plane *= 1 + np.float32(way) * amount


def _holes(fields: Fields, amount: float):
    """Left by air: pinholes, larger ones, and voids that several have run together into."""
    small = strewn_pits(fields, 20 + 620 * amount, 0.8, 4, 2.6)
    large = strewn_pits(fields, 3 + 40 * amount, 3, 15, 2.6)
    voids = soft_step(fields.band(11, 0.5) + 0.5 * fields.band(4, 0.4), 4.1 - 0.7 * amount, 4.9)
    return np.maximum(np.maximum(0.75 * small, large), voids)


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
