"""Rolled ink: the fine worms that a roller pulls up, lap marks where it overlapped, and skips."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.strewn import strewn_pits
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class RollerSettings(Model):
    """ink : how much there was. worm_px : of the worms. roller_px : its width; laps show at its
    edges. laps : how much they show. skips : where it did not touch.
    """

    ink: float = setting(0.6, "Ink", "How much there was.", "share", ge=0, le=1)
    worm_px: float = setting(
        6, "Worms", "", "made_number", unit="px", soft=(3, 24), ge=2, le=120, step=0.5
    )
    roller_px: float = setting(
        420, "Roller", "Its width.", "made_number", unit="px", soft=(100, 1500), ge=60, le=6000
    )
    laps: float = setting(0.45, "Laps", "At its edges.", "share", ge=0, le=1)
    skips: float = setting(0.35, "Skips", "", "share", ge=0, le=1)


@maker(
    "roller",
    title="Rolled ink",
    good_for="a mask, or ink in a coat",
    settings=RollerSettings,
    group="Ink",
    starts={
        "Proof": {},
        "Starved": {"ink": 0.25, "skips": 0.8, "laps": 0.6},
        "Fat ink": {"ink": 0.92, "worm_px": 9.0, "laps": 0.3, "skips": 0.1},
    },
)
def roller(settings: RollerSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: black ink on white, rolled downwards."""
    size = settings.worm_px
    worms = fields.band(2 * size, 0.28) + 0.35 * fields.band(0.9 * size, 0.5)
    lap, edge = _laps(settings, fields)
    load = 0.55 * fields.swell(300, 1.5, stretch=0.5) + 0.25 * fields.cloud(60, 1.2)
    load += settings.laps * (0.8 * lap + 1.1 * edge)
    tooth = fields.band(2.8, 0.5)
    missed = fields.swell(130, 1.4, stretch=0.7) + 0.35 * fields.cloud(16, 1.1) + 0.12 * tooth
    low = 2.9 - 2.0 * settings.skips
    missed = soft_step(missed, low, low + 0.5)
    held = 3.3 * settings.ink - 1.35 + load + 0.75 * worms + 0.18 * tooth
    ink = soft_step(held, -0.35, 0.3)
    holes = soft_step(strewn_pits(fields, 60 + 900 * (1 - settings.ink), 0.6, 4, 3.0), 0.05, 0.5)
    ink = ink * (1 - missed) * (1 - 0.9 * holes)
    ink = np.maximum(ink, 0.8 * missed * soft_step(worms + 0.6 * tooth, 2.0, 2.6))
    tone = 0.13 - 0.05 * np.tanh(load) - 0.035 * np.tanh(worms) + 0.012 * tooth
    return to_bytes(0.975 + (tone - 0.975) * ink)


def _laps(settings: RollerSettings, fields: Fields) -> tuple[np.ndarray, np.ndarray]:
    """(how much more ink each pass has, -1..1; the line of ink at its edges, 0..1)."""
    wide = fields.width / fields.scale
    passes = max(1, round(wide / (0.8 * settings.roller_px)))
    starts = (np.arange(passes) + fields.rng.uniform(-0.2, 0.2, passes)) * wide / passes
    across = (np.arange(fields.width) + 0.5) / fields.scale
    sway = 1.6 * fields.cloud(500, 2.0, stretch=0.4, shortest=30)
    more = np.zeros((fields.height, fields.width), np.float32)
    far = np.full_like(more, 1e3)
    place = (across[None] + sway).astype(np.float32)
    for start in starts.astype(np.float32):
        from_start = (place - start) % np.float32(wide)
        more += np.where(from_start < settings.roller_px, np.float32(0.5), np.float32(-0.1))
        for end in (np.float32(0), np.float32(settings.roller_px % wide), np.float32(wide)):
            np.minimum(far, np.abs(from_start - end), out=far)
    edge = np.exp(-far / np.float32(2.2))
    broken = soft_step(fields.band(30, 0.8, stretch=0.15), -0.8, 0.9)
    return np.tanh(more - more.mean()), edge * broken
