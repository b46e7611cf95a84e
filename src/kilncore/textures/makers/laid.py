"""Laid paper and ticket stock: the wires of its mould, a watermark, fibres, a tint."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.shapes import SHAPES, drawn, lay, own_drawing
from kilncore.textures.makers.parts.strewn import strewn_lines, strewn_pits
from kilncore.textures.makers.parts.tones import ramp, soft_step, to_bytes

STOCKS = {
    "cream": ("Cream", ((146, 132, 100), (214, 202, 170), (240, 232, 208))),
    "ticket": ("Ticket buff", ((142, 104, 60), (208, 168, 112), (232, 202, 150))),
    "blue": ("Pale blue", ((96, 116, 128), (172, 190, 198), (212, 224, 228))),
    "pink": ("Ledger pink", ((146, 96, 92), (214, 170, 162), (238, 206, 198))),
    "kraft": ("Kraft", ((86, 60, 36), (158, 120, 80), (194, 156, 114))),
}
WIRE_PX = 3.0  # how thick a watermark's is
CHOICES = tuple((name, told[0]) for name, told in STOCKS.items())


class LaidSettings(Model):
    """wire_px : from one fine wire to the next. chain_px : from one chain line to the next; wires :
    how far both show. fibres : how many. handled : how far it was. watermark, own : what is sewn
    on the mould, a simple shape or the hash of a drawing. mark_px : of it.
    """

    stock: str = setting("cream", "Stock", "", "made_choice", choices=CHOICES)
    wire_px: float = setting(
        11, "Wires", "From one to the next.", "made_number", unit="px", soft=(5, 40), ge=3, le=300
    )
    chain_px: float = setting(
        290, "Chain lines", "", "made_number", unit="px", soft=(80, 900), ge=40, le=6000, step=5
    )
    wires: float = setting(0.5, "Show", "How far wires do.", "share", ge=0, le=1)
    fibres: float = setting(0.4, "Fibres", "", "share", ge=0, le=1)
    handled: float = setting(0.3, "Handled", "", "share", ge=0, le=1)
    watermark: str = setting("none", "Watermark", "", "made_choice", choices=SHAPES)
    own: str = setting("", "Your own", "A drawing.", "made_artwork", pattern="^([0-9a-f]{64})?$")
    mark_px: float = setting(
        480, "Its size", "", "made_number", unit="px", soft=(150, 1500), ge=60, le=8000, step=10
    )


@maker(
    "laid",
    title="Laid paper",
    good_for="a ground, or a coat over everything",
    settings=LaidSettings,
    group="Paper and cloth",
    starts={
        "Letter paper": {},
        "Ticket stock": {"stock": "ticket", "wires": 0.06, "fibres": 1.0, "handled": 0.6},
        "Bond with a star": {"watermark": "star", "wires": 0.35, "handled": 0.1},
        "Ledger": {"stock": "blue", "wires": 0.3, "handled": 0.8, "fibres": 0.2},
    },
    gives=("colour", "height"),
)
def laid(settings: LaidSettings, fields: Fields) -> Maps:
    """A sheet; its chain lines stand upright."""
    scale = fields.scale
    rows = max(2, round(fields.height / (settings.wire_px * scale)))
    chains = max(1, round(fields.width / (settings.chain_px * scale)))
    y = (np.arange(fields.height, dtype=np.float32)[:, None] + 0.5) * np.float32(
        rows / fields.height
    )
    x = (np.arange(fields.width, dtype=np.float32)[None] + 0.5) * np.float32(chains / fields.width)
    sway = 0.10 * fields.cloud(60, 1.4, stretch=9) + 0.25 * fields.cloud(500, 2.0, shortest=60)
    uneven = 0.75 + 0.35 * np.tanh(fields.cloud(90, 1.4, stretch=4))
    wires = np.cos(2 * np.pi * (y + sway)) * uneven
    chain_sway = 0.004 * fields.cloud(400, 2.0, stretch=0.3, shortest=40)
    off = np.abs((x + chain_sway) % 1 - 0.5) * settings.chain_px
    chain = np.exp(-((off / 3.2) ** 2)) + 0.25 * np.exp(-((off / 11) ** 2))
    felt = fields.cloud(24, 1.3, shortest=2) + 0.6 * fields.band(5, 0.6)
    pale = strewn_lines(fields, 300 + 2200 * settings.fibres, 30, 0.45, bend=1.5)
    dark = strewn_lines(fields, 30 + 420 * settings.fibres, 34, 0.4, bend=1.8)
    mark = _watermark(settings, fields)
    relief = 0.7 * felt + settings.wires * (2.6 * wires - 3.4 * chain) + fields.blurred(pale, 0.6)
    relief -= 1.1 * mark
    light = np.tanh(0.5 * lit(fields, relief))
    tone = 0.68 + 0.03 * fields.cloud(70, 1.0) + 0.025 * fields.swell(500, 1.6) + 0.055 * light
    tone += settings.wires * (0.05 * wires - 0.09 * chain) + 0.04 * pale - 0.16 * dark
    tone += 0.17 * mark * (0.85 + 0.15 * felt)
    tone -= 0.35 * strewn_pits(fields, 60, 0.6, 2.2, 2.8) + 0.012 * np.abs(fields.band(2.6, 0.5))
    soiled = soft_step(fields.swell(420, 1.6) + 0.35 * fields.cloud(40, 1.2), 0.5, 2.4)
    tone -= settings.handled * (0.17 * soiled + 0.02 * np.maximum(fields.cloud(12, 0.9), 0))
    colour = ramp(tone, *STOCKS[settings.stock][1])
    return Maps(to_bytes(colour), height=to_bytes(as_heights(relief)))


def _watermark(settings: LaidSettings, fields: Fields) -> np.ndarray:
    """(H, W) 0..1: where the wire of its outline leaves the sheet thin."""
    out = np.zeros((fields.height, fields.width), np.float32)
    side = min(settings.mark_px * fields.scale, 0.8 * fields.width, 0.8 * fields.height)
    if settings.own:
        shape = own_drawing(settings.own, fields, side)
    elif settings.watermark != "none":
        shape = drawn(settings.watermark, side)
    else:
        return out
    columns, rows = (max(1, int(one / (1.8 * side))) for one in (fields.width, fields.height))
    for n in range(columns * rows):
        x, y = (n % columns + 0.5) / columns, (n // columns + 0.5) / rows
        lay(out, shape, x * fields.width, y * fields.height)
    soft = fields.blurred(out, WIRE_PX)
    return 0.3 * soft + 3 * soft * (1 - soft) * (0.9 - 0.2 * out)
