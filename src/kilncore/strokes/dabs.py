"""Where the dabs of a rough stroke lie: evenly along its way, and varied by its seed.

The browser lays the same dabs under the pointer (bench/drawing/dabs.js); a test compares
them.
"""

from functools import lru_cache

import numpy as np

from kilncore.strokes.drawn import Drawn

FEWEST, MOST = 300, 60_000  # dabs of one stroke at most: fewer the larger they are
TOGETHER = 600  # of dabs with a radius of one unit
THINNEST = 0.1  # of its width, a rough tip at the end of a taper
PURPOSES = 6  # random numbers that a dab may ask for


@lru_cache(64)  # those of a stroke are asked for by every tile
def dabs_of(stroke: Drawn) -> np.ndarray:
    """The dabs of a stroke with a rough tip.

    Parameters
    ----------
    stroke : Drawn
        One whose `rough` is there.

    Returns
    -------
    (N, 6) float64
        x, y and the radius, in the frame's units; the turn, radians; 1, or -1 where it is laid the
        other way round; what it covers where the tip is full, 0..1.
    """
    rough = stroke.rough
    assert rough is not None
    most = int(np.clip(TOGETHER / stroke.radius, FEWEST, MOST))
    at, segment, share = _along(stroke.points, 2 * stroke.radius * rough.gap, most)
    random = _random(rough.seed, len(at))
    pressure = _between(stroke.pressures, segment, share)
    radius = stroke.radius * np.maximum(_between(stroke.widths, segment, share), THINNEST)
    radius = radius * (1 + rough.sizes * (2 * random[:, 0] - 1))
    stray = (random[:, 1:3] * 2 - 1) * (2 * rough.strays * stroke.radius)
    turn = rough.turn + np.pi * rough.turns * (2 * random[:, 3] - 1)
    if rough.follows:
        turn = turn + _directions(stroke.points)[segment]
    flip = np.where((random[:, 4] < 0.5) & rough.flips, -1.0, 1.0)
    load = rough.loaded * (1 - rough.eases * (1 - pressure))
    return np.column_stack([at + stray, radius, turn, flip, load])


def _along(
    points: np.ndarray, spacing: float, most: int
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """((N, 2) places at even distances, the segment of each, its share of that)."""
    if len(points) == 1:
        return points, np.zeros(1, np.int64), np.zeros(1)
    ways = np.diff(points, axis=0)
    reached = np.concatenate([[0.0], np.cumsum(np.hypot(ways[:, 0], ways[:, 1]))])
    count = min(int(reached[-1] / spacing + 1e-9) + 1, most)
    spacing = max(spacing, reached[-1] / most)
    distance = np.arange(count) * spacing
    segment = np.clip(np.searchsorted(reached, distance, "right") - 1, 0, len(ways) - 1)
    long = reached[segment + 1] - reached[segment]
    share = np.clip((distance - reached[segment]) / np.maximum(long, 1e-12), 0, 1)
    return points[segment] + ways[segment] * share[:, None], segment, share


def _between(values: np.ndarray | None, segment: np.ndarray, share: np.ndarray) -> np.ndarray:
    """Of what is told at each point, at each dab; 1 where nothing is told."""
    if values is None:
        return np.ones(len(segment))
    first = values[segment]
    second = values[np.minimum(segment + 1, len(values) - 1)]
    return first + (second - first) * share


def _directions(points: np.ndarray) -> np.ndarray:
    """(N,) radians, of each segment; 0 of a single point."""
    if len(points) == 1:
        return np.zeros(1)
    ways = np.diff(points, axis=0)
    return np.arctan2(ways[:, 1], ways[:, 0])


def _random(seed: int, count: int) -> np.ndarray:
    """(N, PURPOSES) float64, 0..1: the integer hash "lowbias32" of C. Wellons (hash prospector,
    2018) of the number of dab and purpose and the seed."""
    with np.errstate(over="ignore"):
        n = np.arange(count * PURPOSES, dtype=np.uint32)
        n = n + np.uint32(seed) * np.uint32(0x9E3779B9)
        n ^= n >> np.uint32(16)
        n *= np.uint32(0x7FEB352D)
        n ^= n >> np.uint32(15)
        n *= np.uint32(0x846CA68B)
        n ^= n >> np.uint32(16)
    return (n / 2.0**32).reshape(count, PURPOSES)
