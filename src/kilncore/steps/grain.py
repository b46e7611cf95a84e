"""Grain: noise over the art, in cells that keep their size on the piece.

What is drawn smaller shows the mean of the cells that fall into a pixel, whose spread is that much less: a draft has the
grain of the exact picture. Grain of one pixel ignores a turn and keeps to whole pixels, so that it stays sharp.
"""

import numpy as np

from kilncore.landing import Landing
from kilncore.model import Model
from kilncore.steps.base import Paint, setting, step
from kilncore.units import Length, px
from kilncore.white_noise import white_noise

PURPOSES = ("red", "green", "blue")


class GrainParams(Model):
    amount: float = setting(18, "Amount", "How far tones stray from middle grey.", "slider", unit="%", ge=0, le=100, soft=(0, 50))
    size: Length = setting(px(1), "Grain size", "The width of one grain.", "length", soft=(1, 8))
    coloured: bool = setting(False, "Coloured", "Grain of its own in red, green and blue.", "toggle")


def summary(params: GrainParams) -> str:
    return f"{params.amount:g} %, {params.size.value:g} {params.size.unit}"


@step("grain", title="Grain", sentence="Noise over the art, as of film or print.", gives="paint", seeded=True,
      params=GrainParams, summary=summary, landing=Landing(mode="overlay", strength=1.0))
def grain(params: GrainParams, view):
    seeds = tuple(view.seed(purpose) for purpose in PURPOSES[: 3 if params.coloured else 1])
    key = ("grain", params, view.frame, seeds)
    return Paint(view.source(key, lambda: np.stack([_tones(params, view, seed) for seed in seeds])))


def _tones(params: GrainParams, view, seed: int) -> np.ndarray:
    """(H, W) around middle grey, of what is left of the amount at this scale."""
    cell = max(view.frame.length(params.size), view.frame.scale)  # output px; never less than a document px
    box = view.box
    noise = white_noise(_matrix(view.frame, cell), box.left, box.top, box.width, box.height, seed, cell > view.frame.scale * 1.01)
    return np.clip(np.float32(0.5) + np.float32(params.amount / 100 * min(cell, 1.0)) * noise, 0, 1)


def _matrix(frame, cell: float):
    """Output pixel index to cells, counted from the middle of the item; below a pixel, each pixel is a cell."""
    unit, x, y = 1 / max(cell, 1.0), frame.x * frame.scale, frame.y * frame.scale
    if cell <= frame.scale * 1.01:  # one document px
        x, y = round(frame.x) * frame.scale, round(frame.y) * frame.scale
        middle = 0.5 * unit if cell >= 1 else 0.0
        return unit, 0.0, 0.0, unit, middle - (x if cell >= 1 else round(x)) * unit, middle - (y if cell >= 1 else round(y)) * unit
    cos, sin = np.cos(frame.rotation) * unit, np.sin(frame.rotation) * unit
    x, y = x - 0.5, y - 0.5
    return cos, -sin, sin, cos, -(cos * x + sin * y), -(cos * y - sin * x)
