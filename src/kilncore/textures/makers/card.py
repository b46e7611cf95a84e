"""Card: grey board of waste paper, its flecks and shives, rubbed and dented."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.strewn import strewn_cracks, strewn_lines, strewn_pits
from kilncore.textures.makers.parts.tones import mix, ramp, soft_step, to_bytes

STOCKS = {
    "grey": ("Grey board", ((72, 68, 62), (142, 137, 128), (176, 171, 161), (204, 200, 190))),
    "brown": ("Brown box", ((84, 58, 34), (154, 118, 80), (184, 147, 104), (208, 176, 134))),
    "white": ("White-lined", ((150, 147, 140), (222, 219, 211), (238, 236, 229), (250, 249, 245))),
    "blue": ("Folder blue", ((44, 62, 76), (96, 122, 138), (128, 152, 166), (166, 186, 196))),
}
CHOICES = tuple((name, told[0]) for name, told in STOCKS.items())


class CardSettings(Model):
    """flecks : of other paper in it. flutes : how far those of a box show, each flute_px wide.
    rubbed : its face. dented : how much.
    """

    stock: str = setting("grey", "Stock", "", "made_choice", choices=CHOICES)
    flecks: float = setting(0.5, "Flecks", "Of other paper.", "share", ge=0, le=1)
    flutes: float = setting(0.0, "Flutes", "How far they show.", "share", ge=0, le=1)
    flute_px: float = setting(
        78,
        "Flute",
        "From one to the next.",
        "made_number",
        unit="px",
        soft=(20, 200),
        ge=8,
        le=1000,
    )
    rubbed: float = setting(0.35, "Rubbed", "", "share", ge=0, le=1)
    dented: float = setting(0.3, "Dented", "", "share", ge=0, le=1)


@maker(
    "card",
    title="Card",
    good_for="a ground, or a coat",
    settings=CardSettings,
    group="Paper and cloth",
    starts={
        "Grey board": {},
        "Parcel": {"stock": "brown", "flutes": 0.7, "flecks": 0.3, "dented": 0.6},
        "Beer mat": {"stock": "white", "flecks": 0.15, "rubbed": 0.8, "dented": 0.1},
    },
    gives=("colour", "worn", "height"),
)
def card(settings: CardSettings, fields: Fields) -> Maps:
    """Its flutes stand upright."""
    felt = fields.cloud(18, 1.3, shortest=2) + 0.7 * fields.band(5, 0.6, stretch=0.6)
    pulp = strewn_lines(fields, 2600, 26, 0.5, angle=np.pi / 2, spread=0.6, bend=1.2)
    dark = strewn_lines(fields, 60 + 1500 * settings.flecks, 22, 0.7, bend=1.6)
    bits = strewn_pits(fields, 60 + 1600 * settings.flecks, 0.9, 4.5, 2.4)
    pale = strewn_lines(fields, 40 + 900 * settings.flecks, 18, 1.2, bend=1.0)
    dents, creases = _dents(settings, fields), strewn_cracks(fields, 3 * settings.dented, 260, 1.0)
    flutes = _flutes(settings, fields)
    relief = 0.2 * felt + 0.55 * pulp + 0.4 * pale + 5 * settings.flutes * flutes
    relief -= 7 * dents + 1.4 * creases
    light = np.tanh(0.5 * lit(fields, fields.blurred(relief, 0.6)))
    tone = 0.60 + 0.035 * fields.cloud(60, 1.0) + 0.02 * fields.swell(500, 1.6)
    tone += 0.035 * fields.cloud(3, 0.5) + 0.06 * pulp + 0.10 * pale - 0.20 * dark - 0.30 * bits
    tone += 0.06 * settings.flutes * flutes
    rub = _rubbed(settings, fields, felt, creases + 0.5 * dents)
    tone += rub * (0.10 + 0.03 * felt)
    colour = ramp(tone, *STOCKS[settings.stock][1])
    mix(colour, ramp(tone + 0.04 * felt, *STOCKS["grey"][1]), 0.5 * rub)
    soiled = soft_step(fields.swell(420, 1.6) + 0.35 * fields.cloud(40, 1.2), 0.3, 2.4)
    colour *= (1 - 0.22 * settings.rubbed * soiled) * (1 + 0.30 * light)
    return Maps(to_bytes(colour), to_bytes(1 - rub), to_bytes(as_heights(relief)))


def _flutes(settings: CardSettings, fields: Fields) -> np.ndarray:
    """-1..1, of the wave between the faces of a box: glued to its crests, sunk in between."""
    count = max(1, round(fields.width / (settings.flute_px * fields.scale)))
    x = (np.arange(fields.width, dtype=np.float32)[None] + 0.5) * np.float32(count / fields.width)
    sway = 0.03 * fields.cloud(700, 2.0, shortest=60)
    return np.cos(2 * np.pi * (x + sway)) * (0.75 + 0.25 * np.tanh(fields.swell(300, 1.5)))


def _dents(settings: CardSettings, fields: Fields) -> np.ndarray:
    """Where something was pressed into it."""
    knocks = strewn_pits(fields, 14 * settings.dented + 0.2, 5, 60, 1.8)
    return settings.dented * fields.blurred(knocks, 4)


def _rubbed(
    settings: CardSettings, fields: Fields, felt: np.ndarray, folds: np.ndarray
) -> np.ndarray:
    """0..1: where the face has been rubbed off, in patches, along creases first."""
    where = fields.swell(260, 1.5) + 0.5 * fields.cloud(24, 1.1) + 0.25 * felt + 1.6 * folds
    low = 2.9 - 2.6 * settings.rubbed
    return soft_step(where, low, low + 0.7) * min(1.0, 3 * settings.rubbed)
