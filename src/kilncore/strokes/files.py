"""Strokes as small files that never change, named by the hash of their content.

A file is JSON: {"strokes": [{"back", "radius", "hardness", "strength", "points": [[x, y], ...],
...}], "tips": [...]} with whole numbers alone, in shares of the item's height from its middle:
lengths of 1/4096, the way of a broad stroke of 1/64 of its radius, shares of 1/255. A stroke that
was drawn with a rough tip says which of the file's tips it is.
"""

import json
import math
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, ValidationError

from kilncore.errors import KilnError
from kilncore.model.base import Model
from kilncore.strokes.stroke import (
    FINENESS,
    LEAST_GAP,
    LEVELS,
    MOST_POINTS,
    MOST_SEED,
    PACK,
    UNITS,
    WIDEST,
    WIDEST_GAP,
    Stroke,
)
from kilncore.strokes.tip import Tip, tip_named

Level = Annotated[int, Field(ge=0, le=LEVELS)]
TURN = 10  # parts of a degree
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


class _File(Model):
    format: Literal[1] = 1
    strokes: Annotated[tuple[_Stored, ...], Field(min_length=1, max_length=PACK)]
    tips: Annotated[tuple[str, ...], Field(max_length=PACK)] = ()


@dataclass(frozen=True, eq=False)
class Rough:
    """How the dabs of a rough tip are laid. turn : radians. The rest is as `Stroke` has it."""

    tip: Tip
    loaded: float
    gap: float
    turn: float
    follows: bool
    turns: float
    sizes: float
    strays: float
    flips: bool
    eases: float
    seed: int


@dataclass(frozen=True, eq=False)
class Drawn:
    """A stroke as it is drawn. points : (N, 2) float64, no two in a row alike. pressures : (N,)
    float64, or None. rough : None of the smooth round tip.
    """

    back: bool
    points: np.ndarray
    radius: float
    hardness: float
    strength: float
    pressures: np.ndarray | None = None
    thins: float = 0.0
    rough: Rough | None = None

    @property
    def nbytes(self) -> int:
        """Bytes of its points."""
        return self.points.nbytes

    @property
    def reach(self) -> float:
        """How far from its way it may cover something, in the frame's units."""
        if self.rough is None:
            return self.radius
        return self.radius * ((1 + self.rough.sizes) * 2**0.5 + 2 * self.rough.strays)


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
    points, pressures = _kept(stroke)
    stored = _Stored(
        back=stroke.back,
        radius=max(_whole(stroke.radius * UNITS), 1),
        points=tuple(points),
        pressures=tuple(pressures),
        hardness=_level(stroke.hardness),
        strength=_level(stroke.strength),
        thins=_level(stroke.thins),
        rough=_rough(stroke) if tip else None,
    )
    return _bytes(_File(strokes=(stored,), tips=(tip.told,) if tip else ()))


def _kept(stroke: Stroke) -> tuple[list, list]:
    """Its points on the grid that its radius asks for, none twice in a row; and their pressures."""
    step = max(1, _whole(stroke.radius * UNITS) // FINENESS)
    points, pressures = [], []
    for n, (x, y) in enumerate(stroke.points):
        point = (_whole(x * UNITS / step) * step, _whole(y * UNITS / step) * step)
        if points and points[-1] == point:
            continue
        points.append(point)
        pressures += [_level(stroke.pressures[n])] if stroke.pressures else []
    most = int(min(max(TOGETHER / stroke.radius, FEWEST), MOST_POINTS))
    every = -(-len(points) // most)
    return points[::every], pressures[::every]


def _rough(stroke: Stroke) -> _Rough:
    shares = {
        name: _level(getattr(stroke, name))
        for name in ("loaded", "turns", "sizes", "strays", "eases")
    }
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


def pack_of(files: list[bytes]) -> bytes:
    """One file of the strokes of several, which are PACK at most; each tip is in it once."""
    strokes: list[_Stored] = []
    tips: dict[str, int] = {}
    for file in map(_read, files):
        for one in file.strokes:
            if one.rough is None:
                strokes.append(one)
                continue
            tip = tips.setdefault(file.tips[one.rough.tip], len(tips))
            rough = one.rough.model_copy(update={"tip": tip})
            strokes.append(one.model_copy(update={"rough": rough}))
    return _bytes(_File(strokes=tuple(strokes), tips=tuple(tips)))


def apart(data: bytes) -> list[bytes]:
    """A file for each stroke of a pack, as `file_of` would make it."""
    file = _read(data)
    if len(file.strokes) == 1:
        return [data]
    return [_alone(file, one) for one in file.strokes]


def _alone(file: _File, one: _Stored) -> bytes:
    if one.rough is None:
        return _bytes(_File(strokes=(one,)))
    rough = one.rough.model_copy(update={"tip": 0})
    alone = one.model_copy(update={"rough": rough})
    return _bytes(_File(strokes=(alone,), tips=(file.tips[one.rough.tip],)))


def turned_round(data: bytes) -> bytes:
    """A file whose strokes hide what they brought back, and bring back what they hid."""
    file = _read(data)
    other = tuple(one.model_copy(update={"back": not one.back}) for one in file.strokes)
    return _bytes(file.model_copy(update={"strokes": other}))


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
    return Drawn(
        one.back,
        np.array(one.points, np.float64) / UNITS,
        one.radius / UNITS,
        one.hardness / LEVELS,
        one.strength / LEVELS,
        pressures,
        one.thins / LEVELS,
        _laid(one.rough, tips) if one.rough else None,
    )


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
    return file
