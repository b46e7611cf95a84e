"""Paper: cloudy formation, felt tooth, fibres, a few specks."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.strewn import strewn_lines, strewn_pits
from kilncore.textures.makers.parts.tones import ramp, soft_step, to_bytes


class PaperSettings(Model):
    """All shares, 0 to 1."""

    warmth: float = setting(0.5, "Warmth", "White to kraft.", "share", ge=0, le=1)
    tooth: float = setting(0.5, "Tooth", "Smooth to rough.", "share", ge=0, le=1)
    fibres: float = setting(0.5, "Fibres", "How many show.", "share", ge=0, le=1)
    age: float = setting(0.3, "Age", "Foxing and handling.", "share", ge=0, le=1)


@maker(
    "paper",
    title="Paper",
    good_for="a ground, or a coat over everything",
    settings=PaperSettings,
    group="Paper and cloth",
    starts={
        "Warm white": {},
        "Kraft": {"warmth": 1.0, "fibres": 0.9, "tooth": 0.6},
        "Old and rough": {"warmth": 0.7, "tooth": 1.0, "fibres": 0.3, "age": 1.0},
    },
    gives=("colour", "height"),
    revision=2,
)
def paper(settings: PaperSettings, fields: Fields) -> Maps:
    """From white to kraft."""
    felt = (
        1.6 * fields.cloud(26, 1.4, shortest=2)
        + 0.8 * fields.band(6, 0.6, stretch=1.3)
        + 0.5 * fields.band(3.4, 0.4)
    )
    pale = strewn_lines(fields, 500 + 3600 * settings.fibres, 34, 0.5, bend=1.5)
    dark = strewn_lines(fields, 60 + 560 * settings.fibres, 40, 0.45, bend=1.8)
    relief = felt + 2.2 * fields.blurred(pale + dark, 0.7)
    tone = 0.78 + 0.014 * fields.cloud(60, 0.9) + 0.016 * fields.swell(500, 1.6)
    tone += (0.014 + 0.07 * settings.tooth) * np.tanh(0.8 * lit(fields, relief))
    tone += 0.012 * fields.band(2.4, 0.5) + 0.07 * pale - 0.15 * dark
    tone -= strewn_pits(fields, 70, 0.6, 2.4, 2.8) * 0.3
    tone -= settings.age * (0.05 * _foxing(fields) + 0.03 * soft_step(fields.swell(900, 2), 0, 2.5))
    white = ramp(tone, (92, 88, 80), (172, 166, 154), (229, 225, 213), (253, 251, 245))
    kraft = ramp(tone, (66, 46, 28), (128, 97, 64), (178, 145, 106), (208, 178, 140))
    kraft -= white
    kraft *= np.float32(_share(settings.warmth))
    white += kraft
    return Maps(to_bytes(white), height=to_bytes(as_heights(relief)))


def _share(warmth: float) -> float:
    """The middle of the range is a warm white; kraft only near its end."""
    return float(np.clip(warmth, 0, 1) ** 2.2)


def _foxing(fields: Fields):
    return soft_step(fields.cloud(55, 1.5) + 0.6 * fields.swell(400, 2), 2.2, 4.2)
