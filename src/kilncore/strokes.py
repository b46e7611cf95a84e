"""Strokes of touch-up: small files that never change, named by the hash of their content.

A file is JSON: {"strokes": [{"back", "radius", "hardness", "strength", "points": [[x, y], ...]}]}
with whole numbers alone, in shares of the item's height from its middle: lengths of 1/4096, the way
of a broad stroke of 1/64 of its radius, hardness and strength of 1/255. A document lists its files
in order. Each new stroke is a file of its own, until PACK of them in a row become one: so neither
the document nor its history grows with the square of the strokes, and what is drawn of a whole pack
is kept (see `kilncore.planes.strokes`).
"""

import json
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, ValidationError

from kilncore.errors import KilnError
from kilncore.graph.protocols import Assets
from kilncore.model.base import Model

UNITS, LEVELS = 4096, 255
PACK, FINENESS = 32, 64
MOST_FILES, MOST_POINTS, FARTHEST, WIDEST = 512, 2000, 200, 10
Share = Annotated[float, Field(ge=0, le=1)]
Place = Annotated[float, Field(ge=-FARTHEST, le=FARTHEST)]


class Stroke(Model):
    """One stroke, in the item's own frame: lengths are shares of its height, from its middle.

    back : it brings back what was hidden. hardness : the share of the radius that is fully covered.
    strength : how much it hides or brings back.
    """

    back: bool = False
    points: Annotated[tuple[tuple[Place, Place], ...], Field(min_length=1, max_length=MOST_POINTS)]
    radius: float = Field(gt=0, le=WIDEST)
    hardness: Share = 0.5
    strength: Share = 1.0


class _Stored(Model):
    back: bool
    radius: int = Field(ge=1, le=WIDEST * UNITS)
    hardness: int = Field(ge=0, le=LEVELS)
    strength: int = Field(ge=0, le=LEVELS)
    points: Annotated[tuple[tuple[int, int], ...], Field(min_length=1, max_length=MOST_POINTS)]


class _File(Model):
    format: Literal[1] = 1
    strokes: Annotated[tuple[_Stored, ...], Field(min_length=1, max_length=PACK)]


@dataclass(frozen=True, eq=False)
class Drawn:
    """A stroke as it is drawn. points : (N, 2) float64, no two in a row alike."""

    back: bool
    points: np.ndarray
    radius: float
    hardness: float
    strength: float

    @property
    def nbytes(self) -> int:
        """Bytes of its points."""
        return self.points.nbytes


def file_of(stroke: Stroke) -> bytes:
    """The file of one stroke of touch-up. A broad stroke's way is told less finely: to 1/64 of its
    radius.

    Parameters
    ----------
    stroke : Stroke
        Whole numbers, 1/4096 of the frame's unit.

    Returns
    -------
    bytes
        JSON.
    """
    points, step = [], max(1, round(stroke.radius * UNITS) // FINENESS)
    for x, y in stroke.points:
        point = (round(x * UNITS / step) * step, round(y * UNITS / step) * step)
        if not points or points[-1] != point:
            points.append(point)
    return _bytes(
        _File(
            strokes=(
                _Stored(
                    back=stroke.back,
                    radius=max(round(stroke.radius * UNITS), 1),
                    points=tuple(points),
                    hardness=round(stroke.hardness * LEVELS),
                    strength=round(stroke.strength * LEVELS),
                ),
            )
        )
    )


def pack_of(files: list[bytes]) -> bytes:
    """One file of the strokes of several."""
    return _bytes(_File(strokes=tuple(stroke for data in files for stroke in _read(data).strokes)))


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
    return tuple(
        Drawn(
            one.back,
            np.array(one.points, np.float64) / UNITS,
            one.radius / UNITS,
            one.hardness / LEVELS,
            one.strength / LEVELS,
        )
        for one in _read(data).strokes
    )


def _bytes(file: _File) -> bytes:
    return json.dumps(file.model_dump(mode="json"), separators=(",", ":")).encode()


def _read(data: bytes) -> _File:
    try:
        return _File.model_validate_json(data)
    except ValidationError as error:
        raise KilnError("A stroke of touch-up cannot be read.") from error


def added(touch: list[str], stroke: Stroke, assets: Assets) -> list[str]:
    """The files of a landing with a stroke more, which the assets keep. KilnError if there are too
    many.
    """
    touch = [*touch, assets.keep(file_of(stroke))]
    loose = 0
    while loose < len(touch) and len(assets.strokes(touch[-1 - loose])) == 1:
        loose += 1
    if loose >= PACK:
        first = len(touch) - loose
        touch = [
            *touch[:first],
            assets.keep(pack_of([assets.data(name) for name in touch[first : first + PACK]])),
            *touch[first + PACK :],
        ]
    if len(touch) > MOST_FILES:
        raise KilnError(
            "There are too many strokes here already. Undo some of them, or touch up another step."
        )
    return touch
