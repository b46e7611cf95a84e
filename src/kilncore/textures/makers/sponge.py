"""Sponge: dabs of a sponge, whose pores left the ground bare."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.cells import cells
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class SpongeSettings(Model):
    """pore_px : of the large pores. ink : how much it held. dab_px : of a dab. uneven : how far
    dabs differ.
    """

    pore_px: float = setting(
        22, "Pores", "", "made_number", unit="px", soft=(6, 90), ge=4, le=500, step=1
    )
    ink: float = setting(0.5, "Ink", "How much it held.", "share", ge=0, le=1)
    dab_px: float = setting(
        240, "Dabs", "", "made_number", unit="px", soft=(60, 900), ge=30, le=4000, step=10
    )
    uneven: float = setting(0.5, "Uneven", "How dabs differ.", "share", ge=0, le=1)


@maker(
    "sponge",
    title="Sponge",
    good_for="a mask, or ink in a coat",
    settings=SpongeSettings,
    group="Ink",
    starts={
        "Dabbed": {},
        "Fine foam": {"pore_px": 8.0, "uneven": 0.3, "ink": 0.6},
        "Sea sponge": {"pore_px": 52.0, "ink": 0.38, "uneven": 0.8},
    },
)
def sponge(settings: SpongeSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: black ink on white."""
    size = settings.pore_px
    press = _dabs(settings, fields)
    pores = np.full((fields.height, fields.width), 9.0, np.float32)
    for share, many in ((1.0, 0.62), (0.45, 0.5), (0.24, 0.4)):
        pores = np.minimum(pores, _pores(fields, size * share, many) * (0.4 + 0.6 * share))
    rough = fields.cloud(0.4 * size, 1.0)
    tooth = fields.band(3.0, 0.5)
    held = 1.5 * settings.ink - 0.55 + 0.75 * press + 0.9 * np.tanh(0.35 * pores) + 0.22 * rough
    ink = soft_step(held + 0.10 * tooth, 0.02, 0.24)
    full = soft_step(held, 0.1, 1.3)
    tone = 0.34 - 0.25 * full + 0.03 * np.tanh(rough) + 0.02 * tooth
    return to_bytes(0.98 + (tone - 0.98) * ink)


def _pores(fields: Fields, size: float, many: float) -> np.ndarray:
    """(H, W) float32: px from the rim of a pore, negative within one."""
    bend = [0.13 * size * fields.cloud(1.4 * size, 1.8) for _ in range(2)]
    found = cells(fields, size, *bend)
    count = found.xs.size
    open_ = fields.rng.random(count) < many
    wall = (fields.rng.uniform(0.08, 0.30, count) * size).astype(np.float32)
    rim = found.of_each(wall) - found.apart
    return np.where(found.of_each(open_) > 0, rim, np.float32(0.3 * size))


def _dabs(settings: SpongeSettings, fields: Fields) -> np.ndarray:
    """How hard it was pressed, about -1..1."""
    size = settings.dab_px
    bend = [0.16 * size * fields.cloud(0.6 * size, 1.6) for _ in range(2)]
    found = cells(fields, size, *bend)
    hard = fields.rng.normal(0, 0.8, found.xs.size).astype(np.float32)
    edge = 1 - np.exp(-found.apart / np.float32(0.12 * size))
    return settings.uneven * (found.of_each(hard) * edge + 0.5 * fields.cloud(size, 1.6)) + 0.3 * (
        edge - 0.7
    )
