"""Cloth: threads that go over and under each other, each of its own thickness and shade, with
fibres along them.
"""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.strewn import strewn_lines
from kilncore.textures.makers.parts.tones import ramp, to_bytes

CLOTHS = {
    "canvas": ("Canvas", (150, 139, 118), (205, 196, 176), (232, 226, 212)),
    "jute": ("Jute", (84, 60, 36), (150, 116, 76), (196, 164, 120)),
    "mailbag": ("Mailbag", (58, 62, 54), (104, 108, 94), (150, 152, 134)),
    "linen": ("Linen, dark", (24, 30, 40), (46, 56, 70), (84, 94, 108)),
}
CHOICES = tuple((name, told[0]) for name, told in CLOTHS.items())
HOLE = 0.16  # of the depth between threads through which it is dark beneath


class WeaveSettings(Model):
    """thread_px : from thread to thread. loose : how much of what lies beneath shows between them.
    uneven : how much they differ in thickness and shade. worn : fibres that stand off.
    """

    cloth: str = setting("canvas", "Cloth", "", "made_choice", choices=CHOICES)
    thread_px: float = setting(
        11,
        "Threads",
        "From one to the next.",
        "made_number",
        unit="px",
        soft=(5, 40),
        ge=3,
        le=200,
        step=0.5,
    )
    loose: float = setting(0.25, "Loose", "How far apart they lie.", "share", ge=0, le=1)
    uneven: float = setting(0.5, "Uneven", "How much they differ.", "share", ge=0, le=1)
    worn: float = setting(0.4, "Fibres", "How many stand off.", "share", ge=0, le=1)


@maker(
    "weave",
    title="Cloth",
    good_for="a ground, or a map to follow",
    settings=WeaveSettings,
    group="Paper and cloth",
    starts={
        "Primed canvas": {},
        "Jute sack": {"cloth": "jute", "thread_px": 19.0, "loose": 0.6, "uneven": 0.9, "worn": 0.8},
        "Mailbag": {
            "cloth": "mailbag",
            "thread_px": 8.0,
            "loose": 0.1,
            "uneven": 0.35,
            "worn": 0.25,
        },
    },
    gives=("colour", "height"),
    revision=2,
)
def weave(settings: WeaveSettings, fields: Fields) -> Maps:
    """Of one cloth."""
    warp = _Threads(fields, settings, False)
    weft = _Threads(fields, settings, True)
    # over and under by turns, round where they cross
    lift = np.where((warp.number + weft.number) % 2 == 0, np.float32(1), np.float32(-1))
    bow = lift * np.cos(np.pi * warp.across) * np.cos(np.pi * weft.across)
    del warp.number, warp.across, weft.number, weft.across, lift  # room for what follows
    up = warp.round + 0.55 * bow
    flat = weft.round - 0.55 * bow
    del warp.round, weft.round, bow
    over = up > flat
    height_map = np.where(over, up, flat)
    shade = np.where(over, warp.shade + 0.09 * warp.fibre, weft.shade + 0.09 * weft.fibre)
    fluff = _fibres(fields, settings)
    relief = fields.blurred(2.2 * np.maximum(height_map, HOLE - 0.4) + 0.35 * fluff, 0.6)
    light = lit(fields, relief) * (6 / max(settings.thread_px, 4)) ** -0.25
    tone = 0.56 + shade + 0.20 * (height_map - 0.75) + 0.22 * np.tanh(1.2 * light)
    tone += 0.03 * fields.swell(400, 1.4) + 0.07 * fluff + 0.018 * fields.band(2.4, 0.5)
    tone *= np.clip((height_map + 0.45) / (HOLE + 0.45), 0.25, 1)  # dark between threads
    del warp, weft, up, flat, over, shade, fluff, light, height_map
    stops = CLOTHS[settings.cloth][1:]
    red, green, blue = (round(0.35 * one) for one in stops[0])
    colour = ramp(tone, (red, green, blue), *stops)
    return Maps(to_bytes(colour), height=to_bytes(as_heights(relief)))


class _Threads:
    """Of one way. number : of the thread that a px lies nearest to. across : -0.5..0.5 from its
    middle. round : how high it stands, as a cylinder does. shade, fibre : of it.
    """

    def __init__(self, fields: Fields, settings: WeaveSettings, lying: bool):
        side = fields.height if lying else fields.width
        count = max(2, 2 * round(side / fields.scale / settings.thread_px / 2))
        stretch = 18.0 if lying else 1 / 18
        pitch, uneven = side / fields.scale / count, settings.uneven
        at = (np.arange(side, dtype=np.float32) + 0.5) * np.float32(count / side)
        # half a thread on: where the texture ends lies the middle of one
        at = (at[:, None] if lying else at[None]) + np.float32(0.5)
        sway = fields.cloud(30 * pitch, 1.7, stretch=0.3 if lying else 3.3, shortest=pitch)
        at = at + np.float32(0.16 * (0.4 + uneven)) * sway
        self.number = np.floor(at).astype(np.int32)
        self.across = at - self.number - np.float32(0.5)
        thick = 1 + 0.16 * uneven * fields.rng.standard_normal(count)
        shade = 0.055 * uneven * fields.rng.standard_normal(count)
        mine = self.number % count
        slub = fields.band(14 * pitch, 0.6, stretch=stretch / 4 if lying else stretch * 4)
        wide = (
            thick.astype(np.float32)[mine] * (1 + 0.10 * uneven * slub) * (1 - 0.3 * settings.loose)
        )
        self.round = np.sqrt(np.clip(1 - (2 * self.across / np.clip(wide, 0.3, 1.4)) ** 2, 0.0, 1))
        self.shade = shade.astype(np.float32)[mine]
        twist = fields.band(0.32 * pitch, 0.35, stretch=0.45 if lying else 2.2)
        self.fibre = 0.6 * fields.cloud(pitch, 0.9, stretch=1 / 6 if not lying else 6) + 0.5 * twist


def _fibres(fields: Fields, settings: WeaveSettings) -> np.ndarray:
    """Fine hairs all ways, 0..1."""
    return strewn_lines(fields, 1 + 2600 * settings.worn, 3.2 * settings.thread_px, 0.28, bend=1.6)
