"""Grain: noise over the art, in cells that keep their size on the piece.

What is drawn smaller shows the mean of the cells that fall into a pixel, whose spread is that much
less: a draft has the grain of the exact picture. Grain of one pixel ignores a turn and keeps to
whole pixels, so that it stays sharp. Noise has a mean of 0 whatever its sort, so that tones stay
where they are on the whole.
"""

import math
from typing import Any

import numpy as np

from kilncore.compiled.program import Register
from kilncore.geometry.box import Box
from kilncore.graph.protocols import View
from kilncore.landing import Landing
from kilncore.model.units import px
from kilncore.noise.white import white_noise
from kilncore.planes.surface_facts import Surface, surface_under
from kilncore.steps.base import Paint, step
from kilncore.steps.grain_settings import (
    CLUMPED,
    FILM,
    UNIFORM,
    GrainSettings,
    states,
    summary,
)

MOST_PLACES = 6  # each way in a pixel
PURPOSES = ("red", "green", "blue")


CLUMPS, OF_CLUMPS = 3.5, 0.8  # how much larger clumps are, and their share of the spread
WIDEST, PLACES = 5.0, 1024  # spreads of noise that a table tells
COLOUR_SHARE = 0.3  # of the strength: with more of it the grain of a surface is coloured
# what is measured of this step's own grain, of those sizes: between its cells it is read smoothly
MEASURED = (1.0, 1.47, 1.74, 2.36, 3.0, 3.76, 5.43, 7.39, 12.5)
SIZES = (1.0, 1.05, 1.2, 1.5, 1.75, 2.0, 2.5, 3.0, 4.0)
MOST_STRENGTH, MOST_SIZE = 0.08, 2.5  # more is no grain but the surface's own roughness
ROUGH_STRENGTH = 0.02  # of a surface that is rough everywhere, whose grain cannot be told apart
SINGLE_PX = 1.25  # up to here it is noise of single pixels
ADDED = "linear-light"  # b + 2 s - 1: what is laid adds to the tones, and so does a surface's grain


@step(
    "grain",
    title="Grain",
    sentence="Noise over the art, as of film or print.",
    group="Lay over",
    gives="paint",
    seeded=True,
    settings=GrainSettings,
    summary=summary,
    states=states,
    planes=lambda settings, sources: (
        {"surface": surface_under(sources, settings.place)} if settings.match else {}
    ),
    own_mode=lambda settings: settings.match,
    landing=Landing(mode="overlay", strength=1.0),
)
def grain(settings: GrainSettings, view: View):
    """Middle grey plus noise, to be laid over."""
    surface = view.value("surface") if settings.match else None
    settings = as_measured(settings, surface)
    seeds = tuple(view.seed(purpose) for purpose in PURPOSES[: 3 if settings.coloured else 1])
    amount = settings.amount / 100
    variance = (
        view.program.constant(amount**2 * _lost(settings, view.frame)) if view.varies else None
    )
    weight = _weight(settings, view, surface)
    noises = (_sorted(settings, view, noise) for noise in _noise(settings, view, seeds))
    noises = noises if weight is None else (noise * weight for noise in noises)
    laid = tuple((noise * amount + 0.5).clamped() for noise in noises)
    return Paint(laid, variance=variance, mode=ADDED if settings.match else None)


def as_measured(settings: GrainSettings, surface: Surface | None) -> GrainSettings:
    """With the amount and the size of the surface's grain, if it is to be matched."""
    if not settings.match:
        return settings
    if surface is None:
        return settings.model_copy(update={"amount": 0.0})
    grain = surface.grain
    most = ROUGH_STRENGTH if grain.rough else MOST_STRENGTH
    measured = {
        "amount": 100 * min(grain.strength, most) / 2,
        "size": px(1.0 if grain.rough else min(_size_of(grain.size_px), MOST_SIZE)),
        "coloured": grain.colour > COLOUR_SHARE * grain.strength,
    }
    return settings.model_copy(update=measured)


def _size_of(measured: float) -> float:
    """Px of the grain of this step that reads as so large."""
    return 1.0 if measured < SINGLE_PX else float(np.interp(measured, MEASURED, SIZES))


def _weight(settings: GrainSettings, view: Any, surface: Surface | None) -> Register | None:
    """How much of it shows, by the tones of what it is laid on; None for all of it everywhere."""
    wanted = "mids" if settings.sort == FILM and settings.tones == "all" else settings.tones
    grain = surface and surface.grain
    measured = grain and grain.strength > 0 and len(grain.by_tone) > 2
    picture = view.picture() if wanted != "all" or measured else None
    if picture is None:
        return None
    tones, program, weight = picture.tones(), view.program, None
    if grain and measured:
        at, strength = zip(*grain.by_tone, strict=True)
        share = np.interp(np.linspace(0, 1, PLACES + 2), at, strength) / grain.strength
        weight = program.lut(tones.clamped(), share.astype(np.float32))
    by = {
        "lights": lambda: tones * tones,
        "mids": lambda: tones * (1 - tones) * 4,
        "darks": lambda: (1 - tones) * (1 - tones),
        "all": lambda: None,
    }[wanted]()
    return weight if by is None else by if weight is None else weight * by


def _sorted(settings: GrainSettings, view: Any, noise: Register) -> Register:
    """Gaussian noise of spread 1 as another sort. Means of many cells are near to Gaussian whatever
    they are of."""
    if settings.sort != UNIFORM or view.frame.scale < 1:
        return noise
    at = np.linspace(-WIDEST, WIDEST, PLACES + 2)
    share = np.array([0.5 * (1 + math.erf(one / math.sqrt(2))) for one in at])
    table = (math.sqrt(3) * (2 * share - 1)).astype(np.float32)
    return view.program.lut((noise * (0.5 / WIDEST) + 0.5).clamped(), table)


def _lost(settings: GrainSettings, frame: Any) -> float:
    """The share of the finished picture's variance that a draft's pixels have no more, since each
    is a mean.
    """
    return 1 - min(max(frame.length(settings.size), frame.scale), 1.0) ** 2


def _noise(settings: GrainSettings, view: Any, seeds: tuple):
    """A row for each seed, of mean 0 and spread 1."""
    rows = _cells(settings, view, seeds)
    if settings.sort != CLUMPED:
        return rows
    size = settings.size
    wide = settings.model_copy(
        update={"size": size.model_copy(update={"value": size.value * CLUMPS})}
    )
    aside = tuple((seed ^ 0x5BD1E995) & 0xFFFFFFFF for seed in seeds)
    of_cells = math.sqrt(1 - OF_CLUMPS**2)
    clumps = _cells(wide, view, aside)
    return tuple(
        one * of_cells + other * OF_CLUMPS for one, other in zip(rows, clumps, strict=True)
    )


def _cells(settings: GrainSettings, view: Any, seeds: tuple):
    """Of one size."""
    frame = view.frame
    if frame.scale == 1 and _fine(frame.length(settings.size), frame):
        return tuple(view.cells(-round(frame.x), -round(frame.y), seed) for seed in seeds)
    if frame.scale < 1 and frame.laid is None:
        cell = max(frame.length(settings.size), frame.scale)
        key = ("grain", cell, frame.scale, seeds)
        return view.sampled(
            key,
            _matrix(frame, cell),
            lambda box: np.stack([_read(settings, frame, box, seed) for seed in seeds]),
        )
    read = view.source(
        ("grain", settings.size, frame, seeds),
        lambda: tuple(_read(settings, frame, view.box, seed) for seed in seeds),
    )
    return tuple(view.loaded(noise) for noise in read)


def _read(settings: GrainSettings, frame: Any, box: Box, seed: int) -> np.ndarray:
    """(H, W) of mean 0; of a draft, the mean of the finished picture's own pixels, or of as many as
    may be read.
    """
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
        None if _fine(cell, frame) else frame.laid,
    )
    return noise * np.float32(
        min(1.0, max(cell * places, places / pixels))
    )  # fewer places stray more than all would


def _fine(cell: float, frame: Any) -> bool:
    """Whether a grain is one document px."""
    return cell <= frame.scale * 1.01


def _matrix(frame: Any, cell: float):
    """Output pixel index to cells, counted from the middle of the item."""
    unit, x, y = 1 / cell, frame.x * frame.scale, frame.y * frame.scale
    if _fine(cell, frame):  # whole pixels, and no turn
        return unit, 0.0, 0.0, unit, 0.5 * unit - round(frame.x), 0.5 * unit - round(frame.y)
    cos, sin = np.cos(frame.rotation) * unit, np.sin(frame.rotation) * unit
    x, y = x - 0.5, y - 0.5
    return cos, -sin, sin, cos, -(cos * x + sin * y), -(cos * y - sin * x)
