"""Foil: the colours of a thin film, from how thick it is and how it leans.

Light that is thrown back by both faces of a film of refractive index n and thickness d, at an angle
t within it, is 1 + cos(4 pi n d cos(t) / wavelength + pi) at each wavelength (two beams of equal
strength; Born and Wolf, Principles of Optics, 7.6, from memory). It is weighed by the eye's three
responses (Wyman, Sloan and Shirley, JCGT 2013, from memory) and turned into sRGB (IEC 61966-2-1).
"""

from functools import cache

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.cells import cells
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.flow import flowed
from kilncore.textures.makers.parts.relief import lit
from kilncore.textures.makers.parts.tones import to_bytes

INDEX = 1.38  # of the film
THICKEST, PLACES = 2400.0, 2400  # nm, of the table
TO_SRGB = np.array(
    [[3.2406, -1.5372, -0.4986], [-0.9689, 1.8758, 0.0415], [0.0557, -0.2040, 1.0570]]
)


class FoilSettings(Model):
    """thick_nm : of the film, in the middle. varies_nm : how far its thickness varies. size_px : of
    a swirl. crumpled : how far it is crushed. pastel : how pale. shine : of its light.
    """

    thick_nm: float = setting(
        420, "Film", "How thick.", "made_number", unit="nm", soft=(80, 1400), ge=0, le=2000, step=10
    )
    varies_nm: float = setting(
        110,
        "Varies",
        "By how much.",
        "made_number",
        unit="nm",
        soft=(10, 500),
        ge=0,
        le=800,
        step=10,
    )
    size_px: float = setting(
        700, "Swirls", "", "made_number", unit="px", soft=(80, 2000), ge=40, le=8000, step=20
    )
    crumpled: float = setting(0.0, "Crumpled", "", "share", ge=0, le=1)
    pastel: float = setting(0.45, "Pastel", "How pale.", "share", ge=0, le=1)
    shine: float = setting(0.4, "Shine", "", "share", ge=0, le=1)


@maker(
    "foil",
    title="Foil",
    good_for="a fill, or a coat",
    settings=FoilSettings,
    group="Light and pattern",
    starts={
        "Pearl": {},
        "Soap film": {"thick_nm": 520.0, "varies_nm": 330.0, "pastel": 0.12, "shine": 0.2},
        "Oil on water": {"thick_nm": 360.0, "varies_nm": 280.0, "size_px": 300.0, "pastel": 0.0},
        "Night ferry": {"thick_nm": 250.0, "varies_nm": 60.0, "pastel": 0.05, "shine": 0.7},
        "Straw gold": {"thick_nm": 165.0, "varies_nm": 34.0, "pastel": 0.1, "shine": 0.7},
        "Copper rose": {"thick_nm": 196.0, "varies_nm": 22.0, "pastel": 0.15, "shine": 0.7},
        "Mint": {"thick_nm": 335.0, "varies_nm": 60.0, "pastel": 0.55},
        "Shell": {"thick_nm": 640.0, "varies_nm": 120.0, "pastel": 0.72, "shine": 0.3},
        "Crushed pearl": {"crumpled": 0.6, "varies_nm": 110.0, "pastel": 0.4, "shine": 0.8},
        "Crushed gold": {
            "thick_nm": 168.0,
            "varies_nm": 26.0,
            "crumpled": 0.8,
            "shine": 0.9,
            "pastel": 0.05,
        },
        "Crushed rainbow": {
            "thick_nm": 480.0,
            "varies_nm": 260.0,
            "crumpled": 1.0,
            "pastel": 0.1,
            "shine": 0.8,
        },
        "Sweet wrapper": {
            "thick_nm": 440.0,
            "varies_nm": 60.0,
            "crumpled": 0.9,
            "pastel": 0.0,
            "shine": 1.0,
        },
        "Fluorescent": {
            "thick_nm": 700.0,
            "varies_nm": 420.0,
            "size_px": 800.0,
            "pastel": 0.0,
            "shine": 0.1,
        },
    },
)
def foil(settings: FoilSettings, fields: Fields) -> np.ndarray:
    """(3, height, width) uint8."""
    size = settings.size_px
    film = fields.cloud(size, 2.6, shortest=0.05 * size)
    drift = fields.sway(0.3 * size, 0.9 * size, 2.6, shortest=0.06 * size)
    film = flowed(fields, film, *drift)
    leans, light = np.float32(0), 0.5 * fields.cloud(1.5 * size, 2.4, shortest=0.1 * size)
    if settings.crumpled:
        leans, light = _crushed(settings, fields, light)
    thick = settings.thick_nm + settings.varies_nm * (film + 0.9 * leans)
    colour = _film_colours(np.clip(np.abs(thick), 0, THICKEST - 1))
    colour += settings.pastel * (0.52 + 0.42 * colour - colour)
    gain = 1 + settings.shine * 0.75 * np.tanh(light)
    colour *= gain
    glint = settings.shine * 0.55 * np.clip(np.tanh(light) - 0.45, 0, 1)
    colour += glint * (1 - np.clip(colour, 0, 1))
    colour += np.float32(0.006) * fields.band(2.2, 0.5)
    return to_bytes(colour)


def _crushed(settings: FoilSettings, fields: Fields, light: np.ndarray):
    """(how facets lean, how light falls on them)."""
    leans = np.zeros_like(light)
    relief = np.zeros_like(light)
    for size in (0.42 * settings.size_px, 0.17 * settings.size_px, 0.07 * settings.size_px):
        bend = fields.sway(0.10 * size, 1.5 * size, 2.2, shortest=0.3 * size)
        found = cells(fields, size, *bend, jitter=1.0)
        lean = found.of_each(fields.rng.normal(0, 1, found.xs.size))
        ridge = np.minimum(found.apart, np.float32(0.45 * size))
        relief += settings.crumpled * ridge * (0.35 + 0.35 * lean)
        leans += 0.55 * lean * np.minimum(found.apart / np.float32(0.1 * size), 1)
    fall = lit(fields, fields.blurred(relief, 0.8))
    return settings.crumpled * 0.6 * fields.blurred(leans, 1.0), light + 2.6 * fall


@cache
def _table() -> np.ndarray:
    """(PLACES, 3) float32: sRGB, 0..1, of a film of each thickness, scaled to what a screen has."""
    waves = np.arange(380.0, 751.0, 5.0)
    thick = np.arange(PLACES) * (THICKEST / PLACES)
    phase = 4 * np.pi * INDEX * thick[:, None] / waves[None] + np.pi
    reflected = 0.5 + 0.5 * np.cos(phase)
    eye = np.stack(_responses(waves), 1)
    xyz = reflected @ eye / eye[:, 1].sum()
    linear = np.clip(xyz @ TO_SRGB.T, 0, None)
    linear /= linear.max()
    return np.where(
        linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055
    ).astype(np.float32)


def _responses(waves: np.ndarray) -> tuple[np.ndarray, ...]:
    """x, y and z of the 1931 observer, by sums of lobes."""

    def lobe(height: float, middle: float, left: float, right: float) -> np.ndarray:
        wide = np.where(waves < middle, left, right)
        return height * np.exp(-0.5 * ((waves - middle) * wide) ** 2)

    return (
        lobe(0.362, 442.0, 0.0624, 0.0374)
        + lobe(1.056, 599.8, 0.0264, 0.0323)
        + lobe(-0.065, 501.1, 0.0490, 0.0382),
        lobe(0.821, 568.8, 0.0213, 0.0247) + lobe(0.286, 530.9, 0.0613, 0.0322),
        lobe(1.217, 437.0, 0.0845, 0.0278) + lobe(0.681, 459.0, 0.0385, 0.0725),
    )


def _film_colours(thick: np.ndarray) -> np.ndarray:
    """(3, H, W) float32 of a thickness in nm."""
    at = thick.astype(np.float32) * np.float32(PLACES / THICKEST)
    low = np.minimum(at.astype(np.int32), PLACES - 2)
    part = at - low
    table = _table()
    return np.stack([table[:, c][low] * (1 - part) + table[:, c][low + 1] * part for c in range(3)])
