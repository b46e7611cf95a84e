"""Plain shapes as paths, around (0, 0), y upward. A form more is a function and its line in FORMS.

Arcs are cubic curves of an eighth of a turn: they stray 4e-6 of the radius (M. Goldapp,
Approximation of circular arcs by cubic polynomials, 1991).
"""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
import pathops

from kilncore.geometry.paths import cut, united

EIGHTH = math.pi / 4
HANDLE = 4 / 3 * math.tan(EIGHTH / 4)  # of the radius, of an eighth of a turn
DROP, FOLD, NOTCH = 0.28, 0.035, 0.5  # of a banner's height: its tails, the gap; of a tail, the cut
ROUNDEST = 0.98


@dataclass(frozen=True)
class Measures:
    """What a form goes by. wide, tall, corner : lengths in one unit. hole : of a ring, share of it
    that is cut out. points : of a badge or polygon. depth : of a badge's points, roundness of
    theirs, 0..1. tails : of a banner, share of its width each. rise : of an arch, share of its
    height that is round.
    """

    wide: float
    tall: float
    corner: float = 0.0
    hole: float = 0.5
    points: int = 24
    depth: float = 0.12
    roundness: float = 0.0
    tails: float = 0.14
    rise: float = 0.5


def rectangle(of: Measures) -> pathops.Path:
    """With corners that are rounded alike."""
    return _rounded(of.wide, of.tall, of.corner)


def line(of: Measures) -> pathops.Path:
    """As long as it is wide, as thick as it is tall."""
    return _rounded(of.wide, of.tall, of.corner)


def ellipse(of: Measures) -> pathops.Path:
    """As wide and tall as is told."""
    path = pathops.Path()
    _ellipse(path.getPen(), of.wide / 2, of.tall / 2, 1)
    return path


def ring(of: Measures) -> pathops.Path:
    """An ellipse without its middle."""
    path = pathops.Path()
    pen = path.getPen()
    _ellipse(pen, of.wide / 2, of.tall / 2, 1)
    _ellipse(pen, of.wide / 2 * of.hole, of.tall / 2 * of.hole, -1)
    return path


def polygon(of: Measures) -> pathops.Path:
    """With even sides, a point at the top."""
    return _rounded_ring(_around(of.points, of), of.roundness)


def badge(of: Measures) -> pathops.Path:
    """With many points."""
    corners = _around(2 * of.points, of)
    corners[1::2] *= 1 - of.depth
    return _rounded_ring(corners, of.roundness)


def arch(of: Measures) -> pathops.Path:
    """Upright sides, its top half an ellipse."""
    path = pathops.Path()
    pen, (x, y) = path.getPen(), (of.wide / 2, of.tall / 2)
    rise = min(max(of.rise, 0.01), 1) * of.tall
    pen.moveTo((-x, -y))
    pen.lineTo((x, -y))
    pen.lineTo((x, y - rise))
    _arc(pen, (0, y - rise), (x, rise), 0, 4)
    pen.closePath()
    return path


def banner(of: Measures) -> pathops.Path:
    """A ribbon whose tails are folded behind it, lower, and cut to a notch."""
    body, drop, fold = of.tall / (1 + DROP), of.tall * DROP / (1 + DROP), of.tall * FOLD
    middle, tail = of.wide * (1 - 1.3 * of.tails), of.wide * of.tails
    shape = pathops.Path()
    _moved_rectangle(shape.getPen(), (middle / 2, body / 2), (0, drop / 2))
    behind = pathops.Path()
    _moved_rectangle(behind.getPen(), (middle / 2 + fold, body / 2 + fold), (0, drop / 2))
    tails = pathops.Path()
    for side in (-1, 1):
        _tail(tails.getPen(), side, of.wide / 2, tail, body, -drop / 2)
    return united(shape, cut(tails, behind))


def _rounded(wide: float, tall: float, corner: float) -> pathops.Path:
    path = pathops.Path()
    pen, (x, y) = path.getPen(), (wide / 2, tall / 2)
    radius = min(max(corner, 0), x, y)
    if radius <= 0:
        _moved_rectangle(pen, (x, y), (0, 0))
        return path
    pen.moveTo((x, y - radius))
    for turn, (sx, sy) in enumerate(((1, 1), (-1, 1), (-1, -1), (1, -1))):
        middle = (sx * (x - radius), sy * (y - radius))
        start = turn * math.pi / 2
        pen.lineTo(_at(middle, (radius, radius), start))
        _arc(pen, middle, (radius, radius), start, 2)
    pen.closePath()
    return path


def _moved_rectangle(pen: Any, half: tuple[float, float], middle: tuple[float, float]) -> None:
    (x, y), (a, b) = half, middle
    pen.moveTo((a + x, b + y))
    for sx, sy in ((-1, 1), (-1, -1), (1, -1)):
        pen.lineTo((a + sx * x, b + sy * y))
    pen.closePath()


def _ellipse(pen: Any, x: float, y: float, way: int) -> None:
    pen.moveTo((x, 0))
    _arc(pen, (0, 0), (x, y), 0, 8, way)
    pen.closePath()


def _arc(pen: Any, middle: tuple, radii: tuple, start: float, eighths: int, way: int = 1) -> None:
    """From where the pen is. way : 1 against the clock, -1 with it."""
    for n in range(eighths):
        a, b = (start + way * EIGHTH * one for one in (n, n + 1))
        reach = way * HANDLE
        pen.curveTo(
            _at(middle, radii, a, reach), _at(middle, radii, b, -reach), _at(middle, radii, b)
        )


def _at(middle: tuple, radii: tuple, angle: float, reach: float = 0.0) -> tuple[float, float]:
    """A place of an ellipse, or `reach` along its tangent from there."""
    x = math.cos(angle) - reach * math.sin(angle)
    y = math.sin(angle) + reach * math.cos(angle)
    return middle[0] + radii[0] * x, middle[1] + radii[1] * y


def _around(count: int, of: Measures) -> np.ndarray:
    """(N, 2) places of an ellipse, the first at its top."""
    angles = math.pi / 2 + np.arange(count) * 2 * math.pi / count
    return np.column_stack([np.cos(angles) * of.wide / 2, np.sin(angles) * of.tall / 2])


def _rounded_ring(corners: np.ndarray, roundness: float) -> pathops.Path:
    """A closed outline; roundness : the share of each side that its round corners take."""
    path = pathops.Path()
    pen, share = path.getPen(), min(max(roundness, 0), ROUNDEST) / 2
    if not share:
        pen.moveTo(tuple(corners[0]))
        for corner in corners[1:]:
            pen.lineTo(tuple(corner))
        pen.closePath()
        return path
    into = corners + (np.roll(corners, 1, 0) - corners) * share
    out = corners + (np.roll(corners, -1, 0) - corners) * share
    pen.moveTo(tuple(out[-1]))
    for first, corner, last in zip(into, corners, out, strict=True):
        pen.lineTo(tuple(first))
        pen.qCurveTo(tuple(corner), tuple(last))
    pen.closePath()
    return path


def _tail(pen: Any, side: int, end: float, long: float, tall: float, middle: float) -> None:
    """One end of a banner, from behind it outwards."""
    inner, deep = end - 1.6 * long, long * NOTCH
    pen.moveTo((side * inner, middle + tall / 2))
    for x, y in ((end, tall / 2), (end - deep, 0), (end, -tall / 2), (inner, -tall / 2)):
        pen.lineTo((side * x, middle + y))
    pen.closePath()


FORMS: dict[str, tuple[str, Callable[[Measures], pathops.Path]]] = {
    "rectangle": ("Rectangle", rectangle),
    "ellipse": ("Ellipse", ellipse),
    "ring": ("Ring", ring),
    "badge": ("Badge with points", badge),
    "polygon": ("Polygon", polygon),
    "arch": ("Arch", arch),
    "banner": ("Banner", banner),
    "line": ("Line", line),
}
