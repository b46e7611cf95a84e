"""Spatter: drops of many sizes in bursts, the large ones lobed, some with tails that point away
from where they came from.
"""

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.strewn import power_law
from kilncore.textures.makers.parts.tones import to_bytes

POWER = 2.6  # of the radii: how much rarer large drops are than small ones
SMALLEST = 0.45  # px
TAIL_DROPS = 7


class SpatterSettings(Model):
    """per_mpx : drops to a megapixel. largest_px : their radius. bursts : how far they keep
    together. tails : the share of large drops that have one. mist : how much of the finest.
    """

    per_mpx: float = setting(
        2500,
        "Drops",
        "To a million pixels.",
        "made_number",
        soft=(100, 12000),
        ge=1,
        le=60000,
        step=100,
    )
    largest_px: float = setting(
        26, "Largest", "", "made_number", unit="px", soft=(3, 90), ge=1, le=300, step=1
    )
    bursts: float = setting(0.6, "In bursts", "How far they keep together.", "share", ge=0, le=1)
    tails: float = setting(0.4, "Tails", "How many have one.", "share", ge=0, le=1)
    mist: float = setting(0.4, "Mist", "How much of the finest.", "share", ge=0, le=1)


@maker(
    "spatter",
    title="Spatter",
    good_for="a mask, or a coat",
    settings=SpatterSettings,
    group="Grain and specks",
    starts={
        "Flicked brush": {},
        "Fine mist": {
            "per_mpx": 900.0,
            "largest_px": 5.0,
            "bursts": 0.2,
            "tails": 0.0,
            "mist": 1.0,
        },
        "Thrown paint": {
            "per_mpx": 1400.0,
            "largest_px": 90.0,
            "bursts": 0.9,
            "tails": 0.8,
            "mist": 0.2,
        },
    },
    revision=2,
)
def spatter(settings: SpatterSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: black drops on white."""
    rng, scale = fields.rng, fields.scale
    width, height = fields.width / scale, fields.height / scale
    drops = np.concatenate(
        [_bursts(rng, settings, width, height), _mist(rng, settings, width, height)]
    )
    with_tails = np.concatenate([drops, _tails(rng, settings, drops)])
    lobes = rng.normal(0, 1, (len(with_tails), 4)) * np.clip(with_tails[:, 2:3] / 200, 0.015, 0.075)
    turns = rng.random((len(with_tails), 4)) * 2 * np.pi
    places = (scale * with_tails[:, :3]).T.copy()
    ink = _drawn(fields.width, fields.height, *places, lobes, turns)
    Fields.told()
    return to_bytes(1 - ink)


def _bursts(
    rng: np.random.Generator, settings: SpatterSettings, width: float, height: float
) -> np.ndarray:
    """(N, 5): x, y, radius, and the way it flew."""
    pixels = width * height / 1e6
    count = max(1, round(settings.per_mpx * pixels))
    sources = max(1, round(5 * pixels))
    source = rng.random((sources, 2)) * (width, height)
    wide = rng.lognormal(np.log(130), 0.6, sources)
    flow = rng.normal(0, 1, (sources, 2))
    belongs = rng.choice(sources, count, p=(weights := rng.random(sources) ** 2) / weights.sum())
    # most lie near where they came from, few far away
    far = wide[belongs] * rng.exponential(1, count) ** 1.2
    angle = rng.random(count) * 2 * np.pi
    flown = np.stack([np.cos(angle), np.sin(angle)], 1) * far[:, None]
    flown += flow[belongs] * far[:, None] * 0.7
    alone = rng.random(count) >= settings.bursts
    place = np.where(
        alone[:, None], rng.random((count, 2)) * (width, height), source[belongs] + flown
    )
    radius = power_law(rng, count, SMALLEST, max(settings.largest_px, 2 * SMALLEST), POWER)
    return np.column_stack([place, radius, flown])


def _mist(
    rng: np.random.Generator, settings: SpatterSettings, width: float, height: float
) -> np.ndarray:
    count = round(6000 * settings.mist * width * height / 1e6)
    place = rng.random((count, 2)) * (width, height)
    return np.column_stack([place, rng.uniform(0.3, 0.85, count), np.zeros((count, 2))])


def _tails(rng: np.random.Generator, settings: SpatterSettings, drops: np.ndarray) -> np.ndarray:
    """Ever smaller drops behind those that flew far."""
    large = drops[(drops[:, 2] > 2) & (rng.random(len(drops)) < settings.tails)]
    way = large[:, 3:] / np.maximum(np.hypot(*large[:, 3:].T), 1e-6)[:, None]
    steps = np.arange(1, TAIL_DROPS + 1)[:, None]
    long = rng.lognormal(0, 0.45, len(large))
    shrinks = large[:, 2] * 0.72**steps
    gone = large[:, 2] * long * np.cumsum(0.9 * 0.9**steps, 0) * 1.05
    x = large[:, 0] + way[:, 0] * gone + rng.normal(0, 0.08, shrinks.shape) * shrinks
    y = large[:, 1] + way[:, 1] * gone + rng.normal(0, 0.08, shrinks.shape) * shrinks
    zero = np.zeros(x.size)
    return np.column_stack([x.ravel(), y.ravel(), shrinks.ravel(), zero, zero])


@kernel
def _drawn(
    width: int,
    height: int,
    xs: np.ndarray,
    ys: np.ndarray,
    radii: np.ndarray,
    lobes: np.ndarray,
    turns: np.ndarray,
):
    """(height, width) float32 0..1. lobes, turns : (N, 4), how far from round each is."""
    out = np.zeros((height, width), np.float32)
    for n in range(xs.size):
        radius = radii[n]
        reach = int(radius * 1.5) + 2
        column, row = int(np.floor(xs[n])), int(np.floor(ys[n]))
        for j in range(-reach, reach + 1):
            for i in range(-reach, reach + 1):
                dx, dy = column + i + 0.5 - xs[n], row + j + 0.5 - ys[n]
                far = np.sqrt(dx * dx + dy * dy)
                if far > 1.5 * radius + 1:
                    continue
                edge = radius
                if radius > 1.5:
                    angle = np.arctan2(dy, dx)
                    for k in range(4):
                        edge += radius * lobes[n, k] * np.cos((k + 2) * angle + turns[n, k])
                # a drop smaller than a px covers as much of it as it is large
                share = (
                    min(max(edge - far + 0.5, 0.0), 1.0)
                    if radius > 0.6
                    else max(0.0, 1 - far) * radius * radius * 3.1416
                )
                y, x = (row + j) % height, (column + i) % width
                out[y, x] = max(out[y, x], np.float32(share))
    return out
