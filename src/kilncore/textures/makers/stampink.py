"""Stamp ink: a pad's ink on paper, mottled, thinner where the rubber dipped, missing where dry."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.strewn import strewn_lines, strewn_pits
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class StampInkSettings(Model):
    """ink : how well it was inked. mottle_px : of its clouds. dips : where the rubber did not
    press. dry : spots without ink. tooth : of the paper.
    """

    ink: float = setting(0.55, "Ink", "How well it was inked.", "share", ge=0, le=1)
    mottle_px: float = setting(
        26, "Mottle", "", "made_number", unit="px", soft=(8, 120), ge=4, le=600, step=1
    )
    dips: float = setting(0.45, "Dips", "Where it pressed less.", "share", ge=0, le=1)
    dry: float = setting(0.4, "Dry spots", "", "share", ge=0, le=1)
    tooth: float = setting(0.4, "Paper", "How rough.", "share", ge=0, le=1)


@maker(
    "stampink",
    title="Stamp ink",
    good_for="a mask to wear with",
    settings=StampInkSettings,
    group="Ink",
    starts={
        "Hand stamp": {},
        "Old pad": {"ink": 0.2, "dips": 0.7, "dry": 0.75, "tooth": 0.6},
        "Fresh pad": {"ink": 0.9, "dips": 0.25, "dry": 0.15, "mottle_px": 40.0},
    },
)
def stampink(settings: StampInkSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: ink from black to grey, white where there is none."""
    size = settings.mottle_px
    pools = fields.band(1.6 * size, 0.6) + 0.5 * fields.cloud(0.6 * size, 1.2)
    press = fields.swell(18 * size, 1.9)
    tooth = fields.band(3.4, 0.5) + 0.5 * fields.band(7, 0.5)
    fibres = strewn_lines(fields, 900 * settings.tooth + 1, 26, 0.5, bend=1.4)
    held = 2.2 * settings.ink - 0.75 + 0.55 * pools + 1.1 * settings.dips * press
    held += settings.tooth * (0.45 * tooth - 1.4 * fibres)
    ink = soft_step(held, -0.9, -0.25)
    full = soft_step(held, -0.6, 1.6)
    low = 2.7 - 1.5 * settings.dry
    spots = fields.band(9, 0.55) + 0.55 * fields.cloud(60, 1.4) - 0.25 * press
    bare = soft_step(spots + 0.15 * tooth, low, low + 0.35)
    specks = soft_step(strewn_pits(fields, 60 + 700 * settings.dry, 0.6, 4.5, 2.9), 0.1, 0.6)
    ink *= (1 - bare) * (1 - 0.95 * specks)
    # ink gathers at the edge of what is bare
    gathered = np.clip(fields.blurred(bare, 2.2) * 1.6, 0, 1) * (1 - bare)
    tone = 0.46 - 0.34 * full - 0.10 * gathered + 0.05 * np.tanh(pools) + 0.025 * tooth
    return to_bytes(0.98 + (np.clip(tone, 0.05, 0.9) - 0.98) * ink)
