"""Strokes as small files that never change, named by the hash of their content.

A file is JSON: {"strokes": [{"back", "radius", "hardness", "strength", "points": [[x, y], ...],
...}], "tips": [...]} with whole numbers alone, in shares of the item's height from its middle:
lengths of 1/4096, the way of a broad stroke of 1/64 of its radius, shares of 1/255. A stroke that
was drawn with a rough tip says which of the file's tips it is.
"""

import json
import math
from typing import Annotated, Literal, NamedTuple

import numpy as np
from pydantic import Field, ValidationError

from kilncore.errors import KilnError
from kilncore.model.base import Model
from kilncore.strokes.curves import curve, tapered
from kilncore.strokes.drawn import Drawn, Rough
from kilncore.strokes.stroke import (
    FARTHEST,
    FINENESS,
    LEAST_GAP,
    LEVELS,
    MOST_NODES,
    MOST_POINTS,
    MOST_SEED,
    PACK,
    UNITS,
    WIDEST,
    WIDEST_GAP,
    Stroke,
)
from kilncore.strokes.tip import tip_named

Level = Annotated[int, Field(ge=0, le=LEVELS)]
TURN = 10  # parts of a degree
SHARES = ("loaded", "turns", "sizes", "strays", "eases")  # of a rough tip alone
TOGETHER, FEWEST = 800, 800  # points of a way with a radius of one unit; of the broadest


class _Rough(Model):
    """What is of a rough tip alone. tip : its number among the file's. gap : of 1/4096 of its
    width."""

    tip: int = Field(ge=0, lt=PACK)
    loaded: Level
    gap: int = Field(ge=int(LEAST_GAP * UNITS), le=int(WIDEST_GAP * UNITS))
    turn: int = Field(ge=-360 * TURN, le=360 * TURN)
    follows: bool
    turns: Level
    sizes: Level
    strays: Level
    flips: bool
    eases: Level
    seed: int = Field(ge=0, le=MOST_SEED)


class _Stored(Model):
    back: bool
    radius: int = Field(ge=1, le=WIDEST * UNITS)
    hardness: Level
    strength: Level
    points: Annotated[tuple[tuple[int, int], ...], Field(min_length=1, max_length=MOST_POINTS)]
    pressures: Annotated[tuple[Level, ...], Field(max_length=MOST_POINTS)] = ()
    thins: Level = 0
    rough: _Rough | None = None
    curved: bool = False
    corners: Annotated[tuple[int, ...], Field(max_length=MOST_NODES)] = ()
    closed: bool = False
    taper_in: int = Field(0, ge=0, le=FARTHEST * UNITS)
    taper_out: int = Field(0, ge=0, le=FARTHEST * UNITS)
    ends: Literal["round", "flat"] = "round"
    id: int = Field(0, ge=0, le=MOST_SEED)


class _File(Model):
    format: Literal[1] = 1
    strokes: Annotated[tuple[_Stored, ...], Field(min_length=1, max_length=PACK)]
    tips: Annotated[tuple[str, ...], Field(max_length=PACK)] = ()


class Loose(NamedTuple):
    """A stroke as a file has it. tip : as text, "" of none."""

    stored: _Stored
    tip: str


def file_of(stroke: Stroke) -> bytes:
    """The file of one stroke. A broad stroke's way is told less finely: to 1/64 of its radius; one
    of more than MOST_POINTS points, by fewer of them.

    Parameters
    ----------
    stroke : Stroke
        In the frame's units.

    Returns
    -------
    bytes
        JSON.

    Raises
    ------
    KilnError
        If its tip cannot be read.
    """
    tip = tip_named(stroke.tip)
    points, pressures, corners = _kept(stroke)
    stored = _Stored(
        back=stroke.back,
        radius=max(_whole(stroke.radius * UNITS), 1),
        points=tuple(points),
        pressures=tuple(pressures),
        hardness=_level(stroke.hardness),
        strength=_level(stroke.strength),
        thins=_level(stroke.thins),
        rough=_rough(stroke) if tip else None,
        curved=stroke.curved,
        corners=tuple(corners),
        closed=stroke.closed,
        taper_in=_whole(stroke.taper_in * UNITS),
        taper_out=_whole(stroke.taper_out * UNITS),
        ends=stroke.ends,
        id=stroke.id,
    )
    return packed([Loose(stored, tip.told if tip else "")])


def _kept(stroke: Stroke) -> tuple[list, list, list]:
    """Its points on the grid that its radius asks for, none twice in a row; their pressures; which
    of them are corners."""
    step = max(1, _whole(stroke.radius * UNITS) // FINENESS)
    points, pressures, corners = [], [], []
    for n, (x, y) in enumerate(stroke.points):
        point = (_whole(x * UNITS / step) * step, _whole(y * UNITS / step) * step)
        if points and points[-1] == point:
            continue
        corners += [len(points)] if n in stroke.corners else []
        points.append(point)
        pressures += [_level(stroke.pressures[n])] if stroke.pressures else []
    most = _most_points(stroke.radius)
    every = -(-len(points) // most) if not stroke.curved else 1
    return points[::every], pressures[::every], corners


def _most_points(radius: float) -> int:
    """Of a way: what a broad stroke takes to be drawn is bounded."""
    return int(min(max(TOGETHER / radius, FEWEST), MOST_POINTS))


def _rough(stroke: Stroke) -> _Rough:
    shares = {name: _level(getattr(stroke, name)) for name in SHARES}
    return _Rough(
        tip=0,
        gap=_whole(stroke.gap * UNITS),
        turn=_whole(stroke.turn_deg * TURN),
        follows=stroke.follows,
        flips=stroke.flips,
        seed=stroke.seed,
        **shares,
    )


def _whole(value: float) -> int:
    """The nearest; of a half the upper one, as a browser rounds."""
    return math.floor(value + 0.5)


def _level(share: float) -> int:
    return _whole(share * LEVELS)


def told_in(data: bytes) -> tuple[Stroke, ...]:
    """The strokes of a file as they were asked for: `file_of` makes the same of each again."""
    file = _read(data)
    return tuple(_told(one, file.tips) for one in file.strokes)


def _told(one: _Stored, tips: tuple[str, ...]) -> Stroke:
    same = one.model_dump(include={"back", "curved", "corners", "closed", "ends", "id"})
    lengths = {name: getattr(one, name) / UNITS for name in ("radius", "taper_in", "taper_out")}
    shares = {name: getattr(one, name) / LEVELS for name in ("hardness", "strength", "thins")}
    rough = _told_rough(one.rough, tips) if one.rough else {}
    return Stroke(
        points=tuple((x / UNITS, y / UNITS) for x, y in one.points),
        pressures=tuple(level / LEVELS for level in one.pressures),
        **(same | lengths | shares | rough),
    )


def _told_rough(rough: _Rough, tips: tuple[str, ...]) -> dict:
    same = rough.model_dump(include={"follows", "flips", "seed"})
    shares = {name: getattr(rough, name) / LEVELS for name in SHARES}
    turn, gap = rough.turn / TURN, rough.gap / UNITS
    return {"tip": tips[rough.tip], "turn_deg": turn, "gap": gap} | same | shares


def pack_of(files: list[bytes]) -> bytes:
    """One file of the strokes of several, which are PACK at most."""
    return packed([one for data in files for one in loose(data)])


def loose(data: bytes) -> list[Loose]:
    """The strokes of a file, one by one."""
    file = _read(data)
    return [Loose(one, file.tips[one.rough.tip] if one.rough else "") for one in file.strokes]


def packed(strokes: list[Loose]) -> bytes:
    """A file of strokes, which are PACK at most; each tip is in it once."""
    tips: dict[str, int] = {}
    stored = []
    for one, tip in strokes:
        if one.rough is not None:
            rough = one.rough.model_copy(update={"tip": tips.setdefault(tip, len(tips))})
            one = one.model_copy(update={"rough": rough})
        stored.append(one)
    return _bytes(_File.model_construct(strokes=tuple(stored), tips=tuple(tips)))


def turned_round(one: Loose) -> Loose:
    """A stroke that hides what it brought back, or brings back what it hid."""
    return one._replace(stored=one.stored.model_copy(update={"back": not one.stored.back}))


def strokes_in(data: bytes) -> tuple[Drawn, ...]:
    """The strokes of a file.

    Parameters
    ----------
    data : bytes
        As `file_of` made it, or a pack of several.

    Returns
    -------
    tuple of Drawn
        In order.

    Raises
    ------
    KilnError
        If it is no such file.
    """
    file = _read(data)
    return tuple(_drawn(one, file.tips) for one in file.strokes)


def _drawn(one: _Stored, tips: tuple[str, ...]) -> Drawn:
    pressures = np.array(one.pressures, np.float64) / LEVELS if one.pressures else None
    points, pressures, widths = _way(one, np.array(one.points, np.float64) / UNITS, pressures)
    return Drawn(
        one.back,
        points,
        one.radius / UNITS,
        one.hardness / LEVELS,
        one.strength / LEVELS,
        pressures,
        widths,
        one.ends == "flat" and not one.closed,
        _laid(one.rough, tips) if one.rough else None,
        one.id,
    )


def _way(one: _Stored, points: np.ndarray, pressures: np.ndarray | None) -> tuple:
    """(points, pressures, widths) as it is drawn; None for what is the same all along."""
    if one.curved:
        most = _most_points(one.radius / UNITS)
        points, pressures = curve(points, one.corners, one.closed, most), None
    elif one.closed and len(points) > 2:
        points = np.concatenate([points, points[:1]])
        pressures = None if pressures is None else np.append(pressures, pressures[0])
    widths = None
    if (one.taper_in or one.taper_out) and not one.closed and len(points) > 1:
        tapers = one.taper_in / UNITS, one.taper_out / UNITS
        points, pressures, widths = tapered(points, pressures, *tapers)
    if pressures is not None and one.thins:
        thinned = 1 - one.thins / LEVELS * (1 - pressures)
        widths = thinned if widths is None else widths * thinned
    return points, pressures, widths


def _laid(rough: _Rough, tips: tuple[str, ...]) -> Rough:
    tip = tip_named(tips[rough.tip])
    if tip is None:
        raise KilnError("A stroke of touch-up cannot be read.")
    return Rough(
        tip,
        rough.loaded / LEVELS,
        rough.gap / UNITS,
        np.radians(rough.turn / TURN),
        rough.follows,
        rough.turns / LEVELS,
        rough.sizes / LEVELS,
        rough.strays / LEVELS,
        rough.flips,
        rough.eases / LEVELS,
        rough.seed,
    )


def _bytes(file: _File) -> bytes:
    told = file.model_dump(mode="json", exclude_defaults=True)
    return json.dumps({"format": 1, **told}, separators=(",", ":")).encode()


def _read(data: bytes) -> _File:
    try:
        file = _File.model_validate_json(data)
    except ValidationError as error:
        raise KilnError("A stroke of touch-up cannot be read.") from error
    for one in file.strokes:
        if one.pressures and len(one.pressures) != len(one.points):
            raise KilnError("A stroke of touch-up cannot be read.", "its pressures")
        if one.rough and one.rough.tip >= len(file.tips):
            raise KilnError("A stroke of touch-up cannot be read.", "its tip")
        if one.curved and len(one.points) > MOST_NODES:
            raise KilnError("A stroke of touch-up cannot be read.", "its curve")
    return file
