"""Grain: noise over the art, in cells that keep their size on the piece.

What is drawn smaller shows the mean of the cells that fall into a pixel, whose spread is that much
less: a draft has the grain of the exact picture. Grain of one pixel ignores a turn and keeps to
whole pixels, so that it stays sharp.
"""

import numpy as np

from kilncore.graph.protocols import View
from kilncore.landing import Landing
from kilncore.model.base import Model
from kilncore.model.units import Length, format_number, px
from kilncore.noise.white import white_noise
from kilncore.steps.base import Paint, setting, step

MOST_PLACES = 6  # each way in a pixel
PURPOSES = ("red", "green", "blue")


class GrainSettings(Model):
    """How strong, how large, and whether in colours."""

    amount: float = setting(
        18,
        "Amount",
        "How far tones stray from middle grey.",
        "slider",
        unit="%",
        ge=0,
        le=100,
        soft=(0, 50),
    )
    size: Length = setting(px(1), "Grain size", "The width of one grain.", "length", soft=(1, 8))
    coloured: bool = setting(
        False, "Coloured", "Grain of its own in red, green and blue.", "toggle"
    )


def summary(settings: GrainSettings) -> str:
    """In a few words."""
    return f"{format_number(settings.amount)} %, {settings.size}"


@step(
    "grain",
    title="Grain",
    sentence="Noise over the art, as of film or print.",
    gives="paint",
    seeded=True,
    settings=GrainSettings,
    summary=summary,
    landing=Landing(mode="overlay", strength=1.0),
)
def grain(settings: GrainSettings, view: View):
    """Middle grey plus noise, to be laid over."""
    seeds = tuple(view.seed(purpose) for purpose in PURPOSES[: 3 if settings.coloured else 1])
    amount = settings.amount / 100
    variance = (
        view.program.constant(amount**2 * _lost(settings, view.frame)) if view.varies else None
    )
    return Paint(
        tuple((noise * amount + 0.5).clamped() for noise in _noise(settings, view, seeds)),
        variance=variance,
    )


def _lost(settings: GrainSettings, frame) -> float:
    """The share of the finished picture's variance that a draft's pixels have no more, since each
    is a mean.
    """
    return 1 - min(max(frame.length(settings.size), frame.scale), 1.0) ** 2


def _noise(settings: GrainSettings, view, seeds):
    """A row for each seed, of mean 0 and spread 1."""
    frame = view.frame
    if frame.scale == 1 and _fine(frame.length(settings.size), frame):
        return tuple(view.cells(-round(frame.x), -round(frame.y), seed) for seed in seeds)
    read = view.source(
        ("grain", settings.size, frame, seeds),
        lambda: tuple(_read(settings, view, seed) for seed in seeds),
    )
    return tuple(view.loaded(noise) for noise in read)


def _read(settings: GrainSettings, view, seed: int) -> np.ndarray:
    """(H, W) of mean 0; of a draft, the mean of the finished picture's own pixels, or of as many as
    may be read.
    """
    frame, box = view.frame, view.box
    cell = max(frame.length(settings.size), frame.scale)  # output px; never less than a document px
    pixels = 1 / min(frame.scale, 1.0)
    places = max(1, min(round(pixels), MOST_PLACES))
    noise = white_noise(
        _matrix(frame, cell),
        box.left,
        box.top,
        box.width,
        box.height,
        seed,
        not _fine(cell, frame),
        places,
    )
    return noise * np.float32(
        min(1.0, max(cell * places, places / pixels))
    )  # fewer places stray more than all would


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
