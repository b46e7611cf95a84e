"""Scratches: thin tapered lines that a hand that slips would make, by a seed; one, or a handful at
once."""

import math
from typing import Any

import numpy as np

from kilncore.errors import KilnError
from kilncore.strokes.stroke import Stroke

MOST = 60  # at once
BENDS = 33  # points of one
BOWS, TREMBLES = 0.014, 0.0012  # of its length, that its middle is off, and each place of it
SPREADS = 0.30  # radians, that the ways of a handful differ
LEAST_PRESSURE = 0.06


def scratch(
    start: tuple[float, float], end: tuple[float, float], width: float, seed: int, **how: Any
) -> Stroke:
    """One scratch.

    Parameters
    ----------
    start, end : (x, y)
        In the item's own frame: shares of its height, from its middle.
    width : float
        Where it is widest, in the same.
    seed : int
        Of how it trembles.
    **how
        What else of `Stroke` is told, such as `back`.

    Returns
    -------
    Stroke
        Smooth, thin at both ends.
    """
    random = np.random.default_rng(seed)
    along = np.linspace(0, 1, BENDS)
    way = np.subtract(end, start)
    length = max(float(np.hypot(*way)), 1e-9)
    across = np.array([-way[1], way[0]]) / length
    off = random.normal(0, BOWS) * np.sin(np.pi * along)
    off = off + random.normal(0, BOWS / 3) * np.sin(2 * np.pi * along)
    off[1:-1] += np.cumsum(random.standard_normal(BENDS - 2)) * TREMBLES  # it ends where it is told
    off[1:-1] -= off[-2] * along[1:-1]
    points = np.asarray(start) + along[:, None] * way + off[:, None] * length * across
    deepest = random.uniform(0.2, 0.55)
    taper = np.where(along < deepest, along / deepest, (1 - along) / (1 - deepest)) ** 0.6
    pressures = np.clip(taper * random.uniform(0.45, 1, BENDS), LEAST_PRESSURE, 1)
    return Stroke(
        points=tuple(map(tuple, points.tolist())),
        pressures=tuple(pressures.tolist()),
        radius=width / 2,
        hardness=0.8,
        thins=1.0,
        seed=seed,
        id=seed,
        **how,
    )


def handful(
    count: int, across: tuple[float, float], width: float, length: float, seed: int, **how: Any
) -> list[Stroke]:
    """Several scratches over an item, most of them in one direction.

    Parameters
    ----------
    count : int
        1 to MOST.
    across : (width, height)
        Of the item, in its own frame, around its middle.
    width, length : float
        Of the widest and the longest, in the same.
    seed : int
        The same gives the same.
    **how
        As of `scratch`.

    Returns
    -------
    list of Stroke
        In the order in which they were made.

    Raises
    ------
    KilnError
        If so many cannot be made at once.
    """
    if not 1 <= count <= MOST:
        raise KilnError(f"A handful is 1 to {MOST} scratches.", str(count))
    random = np.random.default_rng(seed)
    way = random.uniform(0, math.pi)
    made = []
    for n in range(count):
        x, y = (random.uniform(-0.5, 0.5) * side for side in across)
        turn = way + random.normal(0, SPREADS)
        long = length * random.uniform(0.25, 1) ** 1.5
        dx, dy = math.cos(turn) * long / 2, math.sin(turn) * long / 2
        thin = width * random.uniform(0.35, 1)
        made.append(scratch((x - dx, y - dy), (x + dx, y + dy), thin, seed + n + 1, **how))
    return made
