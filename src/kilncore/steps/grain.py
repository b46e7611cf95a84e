"""Grain: noise over the art, in cells that keep their size on the piece.

What is drawn smaller shows the mean of the cells that fall into a pixel, whose spread is that much less: a draft has the
grain of the exact picture. Grain of one pixel ignores a turn and keeps to whole pixels, so that it stays sharp.
"""

import numpy as np

from kilncore.landing import Landing
from kilncore.model import Model
from kilncore.steps.base import Paint, setting, step
from kilncore.units import Length, px, told_number
from kilncore.white_noise import white_noise

MOST_PLACES = 6  # each way in a pixel
PURPOSES = ("red", "green", "blue")


class GrainParams(Model):
    amount: float = setting(18, "Amount", "How far tones stray from middle grey.", "slider", unit="%", ge=0, le=100, soft=(0, 50))
    size: Length = setting(px(1), "Grain size", "The width of one grain.", "length", soft=(1, 8))
    coloured: bool = setting(False, "Coloured", "Grain of its own in red, green and blue.", "toggle")


def summary(params: GrainParams) -> str:
    return f"{told_number(params.amount)} %, {params.size}"


@step("grain", title="Grain", sentence="Noise over the art, as of film or print.", gives="paint", seeded=True,
      params=GrainParams, summary=summary, landing=Landing(mode="overlay", strength=1.0))
def grain(params: GrainParams, view):
    seeds = tuple(view.seed(purpose) for purpose in PURPOSES[: 3 if params.coloured else 1])
    return Paint(tuple((noise * (params.amount / 100) + 0.5).held() for noise in _noise(params, view, seeds)))


def _noise(params: GrainParams, view, seeds):
    """A row for each seed, of mean 0 and spread 1."""
    frame = view.frame
    if frame.scale == 1 and _fine(frame.length(params.size), frame):
        return tuple(view.cells(-round(frame.x), -round(frame.y), seed) for seed in seeds)
    read = view.source(("grain", params.size, frame, seeds), lambda: tuple(_read(params, view, seed) for seed in seeds))
    return tuple(view.loaded(noise) for noise in read)


def _read(params: GrainParams, view, seed: int) -> np.ndarray:
    """(H, W) of mean 0; of a draft, the mean of the finished picture's own pixels, or of as many as may be read."""
    frame, box = view.frame, view.box
    cell = max(frame.length(params.size), frame.scale)  # output px; never less than a document px
    pixels = 1 / min(frame.scale, 1.0)
    places = max(1, min(round(pixels), MOST_PLACES))
    noise = white_noise(_matrix(frame, cell), box.left, box.top, box.width, box.height, seed, not _fine(cell, frame), places)
    return noise * np.float32(min(1.0, max(cell * places, places / pixels)))  # fewer places stray more than all would


def _fine(cell: float, frame) -> bool:
    """Whether a grain is one document px."""
    return cell <= frame.scale * 1.01


def _matrix(frame, cell: float):
    """Output pixel index to cells, counted from the middle of the item."""
    unit, x, y = 1 / cell, frame.x * frame.scale, frame.y * frame.scale
    if _fine(cell, frame):  # whole pixels, and no turn
        return unit, 0.0, 0.0, unit, 0.5 * unit - round(frame.x), 0.5 * unit - round(frame.y)
    cos, sin = np.cos(frame.rotation) * unit, np.sin(frame.rotation) * unit
    x, y = x - 0.5, y - 0.5
    return cos, -sin, sin, cos, -(cos * x + sin * y), -(cos * y - sin * x)
