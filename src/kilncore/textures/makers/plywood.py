"""Plywood: a veneer peeled off a log, its rings in long tongues, with pores, plugs and sanding."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, from_edge, lit
from kilncore.textures.makers.parts.strewn import strewn_lines
from kilncore.textures.makers.parts.tones import ramp, soft_step, to_bytes

WOODS = {
    "birch": ("Birch", ((128, 92, 56), (196, 160, 114), (222, 192, 150), (240, 220, 188))),
    "pine": ("Pine", ((112, 66, 30), (190, 136, 78), (222, 176, 116), (240, 208, 160))),
    "okoume": ("Okoume", ((84, 42, 28), (150, 92, 66), (186, 128, 98), (214, 168, 138))),
    "grey": ("Weathered", ((60, 58, 54), (120, 116, 108), (160, 156, 147), (198, 194, 184))),
}
CHOICES = tuple((name, told[0]) for name, told in WOODS.items())
REACH = 40  # px to the edge of a plug that are told


class PlywoodSettings(Model):
    """ring_px : from ring to ring, where they are wide. figure : how far rings run out in tongues.
    pores : how many. plugs : repairs. worn : of its surface.
    """

    wood: str = setting("birch", "Wood", "", "made_choice", choices=CHOICES)
    ring_px: float = setting(
        34, "Rings", "From one to the next.", "made_number", unit="px", soft=(10, 150), ge=6, le=800
    )
    figure: float = setting(0.5, "Figure", "Straight to tongues.", "share", ge=0, le=1)
    pores: float = setting(0.5, "Pores", "", "share", ge=0, le=1)
    plugs: float = setting(0.25, "Plugs", "Repairs.", "share", ge=0, le=1)
    worn: float = setting(0.3, "Worn", "", "share", ge=0, le=1)


@maker(
    "plywood",
    title="Plywood",
    good_for="a ground, or a surface to follow",
    settings=PlywoodSettings,
    group="Materials",
    starts={
        "Cabin lining": {},
        "Packing case": {
            "wood": "pine",
            "ring_px": 52.0,
            "figure": 0.85,
            "plugs": 0.8,
            "worn": 0.6,
        },
        "Left outside": {"wood": "grey", "worn": 1.0, "pores": 0.9, "figure": 0.35},
    },
    gives=("colour", "worn", "height"),
)
def plywood(settings: PlywoodSettings, fields: Fields) -> Maps:
    """One sheet; its grain lies across."""
    ring = settings.ring_px
    land = fields.swell(14 * ring, 2.3, stretch=5) * (1 + 4.5 * settings.figure)
    land += 0.16 * fields.cloud(2.2 * ring, 1.9, stretch=8) + 0.03 * fields.cloud(
        30, 1.4, stretch=12
    )
    plug, edge = _plugs(settings, fields)
    rings = 2.6 * land + 3.7 * plug
    t = rings - np.floor(rings)
    late = t**2.2 * (1 - soft_step(t, 0.86, 1.0))
    year = np.floor(rings).astype(np.int64) % 256
    late = 1.25 * late * fields.rng.uniform(0.35, 1.0, 256).astype(np.float32)[year]
    fibre = fields.band(2.6, 0.5, stretch=24) + 0.6 * fields.band(6, 0.5, stretch=30)
    pores = strewn_lines(fields, 200 + 9000 * settings.pores, 13, 0.42, 0.0, 0.03, bend=0.02)
    rays = soft_step(fields.band(5, 0.5, stretch=0.5) + 0.4 * late, 1.4, 2.6)
    gap = np.exp(-np.abs(edge) / 1.1)
    rough = fields.cloud(60, 1.4, stretch=3) + 0.4 * fields.cloud(9, 0.9)
    lifted = settings.worn * soft_step(rough + 0.5 * late, 2.3 - 1.3 * settings.worn, 2.9)
    relief = 0.9 * late + 0.35 * fibre * (0.4 + settings.worn) - 1.5 * pores - 4 * gap
    relief = fields.blurred(relief - 2.2 * lifted, 0.6)
    light = np.tanh(0.5 * lit(fields, relief))
    tone = 0.66 - 0.26 * late + 0.022 * fibre - 0.20 * pores + 0.03 * rays + 0.05 * light
    tone += 0.035 * fields.swell(400, 1.6, stretch=4) + 0.012 * fields.band(2.3, 0.5)
    tone = (tone - 0.13 * lifted + 0.05 * (plug - 0.4) * (plug > 0)) * (1 - 0.6 * gap)
    colour = ramp(tone, *WOODS[settings.wood][1])
    worn = (1 - lifted) * (1 - 0.8 * gap) * (1 - 0.7 * pores)
    return Maps(to_bytes(colour), to_bytes(worn), to_bytes(as_heights(relief)))


def _plugs(settings: PlywoodSettings, fields: Fields) -> tuple[np.ndarray, np.ndarray]:
    """(a number of its own on each plug, 0 beside; px to the edge of one)."""
    shape = (fields.height, fields.width)
    if not settings.plugs:
        return np.zeros(shape, np.float32), np.full(shape, REACH, np.float32)
    scale = fields.scale
    count = max(1, round(9 * settings.plugs * fields.megapixels))
    places = fields.rng.random((2, count)) * [[shape[1]], [shape[0]]]
    own = fields.rng.uniform(0.2, 1, count)
    x, y = np.arange(shape[1])[None], np.arange(shape[0])[:, None]
    plug = np.zeros(shape, np.float32)
    for n in range(count):
        dx = (x - places[0, n] + shape[1] / 2) % shape[1] - shape[1] / 2
        dy = (y - places[1, n] + shape[0] / 2) % shape[0] - shape[0] / 2
        long, half = 74 * scale, 20 * scale  # the shape of two arcs
        plug[(np.abs(dx) < long) & (np.abs(dy) < half * (1 - (dx / long) ** 2))] = own[n]
    return plug, from_edge(fields, plug > 0, REACH)
