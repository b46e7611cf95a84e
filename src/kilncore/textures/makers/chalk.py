"""Chalk: rubbed over a rough ground, it stays on what stands up."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.strewn import strewn_lines
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class ChalkSettings(Model):
    """tooth_px : of the ground. pressed : how hard. strokes : how far single strokes show. dust :
    how much lies between.
    """

    tooth_px: float = setting(
        5, "Tooth", "Of the ground.", "made_number", unit="px", soft=(3, 24), ge=2, le=120, step=0.5
    )
    pressed: float = setting(0.5, "Pressed", "How hard.", "share", ge=0, le=1)
    strokes: float = setting(0.5, "Strokes", "How far they show.", "share", ge=0, le=1)
    dust: float = setting(0.35, "Dust", "Between.", "share", ge=0, le=1)


@maker(
    "chalk",
    title="Chalk rubbing",
    good_for="a mask, or a coat that screens",
    settings=ChalkSettings,
    group="Ink",
    starts={
        "On board": {},
        "Light rubbing": {"pressed": 0.2, "strokes": 0.25, "dust": 0.1},
        "Scribbled": {"pressed": 0.42, "strokes": 1.0, "tooth_px": 7.0, "dust": 0.5},
    },
)
def chalk(settings: ChalkSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: black where there is chalk, on white."""
    size = settings.tooth_px
    tooth = fields.band(2 * size, 0.5) + 0.7 * fields.swell(2.4 * size, 0.9)
    tooth = tooth + 0.5 * fields.band(2.6, 0.5)
    tooth /= tooth.std()
    rows = strewn_lines(fields, 150, 420, 7.5, -0.62, 0.09, bend=0.12)
    rows = np.maximum(rows, 0.8 * strewn_lines(fields, 260, 260, 3.2, -0.62, 0.12, bend=0.15))
    rows = fields.blurred(rows, 1.2)
    press = 0.55 * fields.swell(260, 1.6) + 0.25 * fields.cloud(40, 1.2)
    held = 3.0 * settings.pressed - 1.75 + press + settings.strokes * (2.6 * rows - 0.9)
    chalked = soft_step(held + tooth, -0.1, 0.85)
    film = settings.dust * 0.42 * soft_step(held + 0.35 * tooth, -1.6, 1.6)
    tone = np.maximum(chalked * (0.86 + 0.06 * np.tanh(tooth)), film)
    return to_bytes(0.985 - 0.95 * tone)
