"""Lines that letters stand on: arcs, circles, waves, ways along points.

Each says where the places of a straight line come to lie: s along it from where the words are
aligned, y below it, in ems, y downward. Around an arc a place is told by its angle and its radius;
along other lines by the point of the line and its normal.
"""

import math
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

LEAST_RADIUS = 0.05  # ems
STEPS = 64  # of one wave, or from one point of a curve to the next
FLAT = 1e-6


class Baseline:
    """What is said of every line."""

    def places(self, s: np.ndarray, y: np.ndarray) -> np.ndarray:
        """(..., 2) where places come to lie."""
        raise NotImplementedError

    def place(self, s: float, y: float) -> tuple[float, float]:
        """Where one place comes to lie."""
        x, y = self.places(np.array([s]), np.array([y]))[0].tolist()
        return x, y

    def turn(self, s: float) -> float:
        """How far the line is turned there, radians clockwise."""
        raise NotImplementedError

    def lowered(self, by: float) -> "Baseline":
        """The line that runs so far below it."""
        raise NotImplementedError


@dataclass(frozen=True)
class Arc(Baseline):
    """radius : of the line; below 0 its middle lies above. about : its middle. start : where s is
    0, radians clockwise from the top (from the bottom, where the middle lies above).
    """

    radius: float
    about: tuple[float, float] = (0.0, 0.0)
    start: float = 0.0

    def places(self, s: np.ndarray, y: np.ndarray) -> np.ndarray:
        """By angle and radius."""
        turn = np.asarray(s) / self.radius + self.start
        reach = self.radius - np.asarray(y)
        return np.stack(
            [self.about[0] + reach * np.sin(turn), self.about[1] - reach * np.cos(turn)], -1
        )

    def turn(self, s: float) -> float:
        """Along the circle."""
        return s / self.radius + self.start

    def lowered(self, by: float) -> "Baseline":
        """Around the same middle; never through it."""
        radius = self.radius - by
        least = math.copysign(LEAST_RADIUS, self.radius)
        return Arc(radius if radius * least > LEAST_RADIUS**2 else least, self.about, self.start)


@dataclass(frozen=True)
class Way(Baseline):
    """Along points, (N, 2) as a tuple; s is 0 at `start`, counted along them. Beyond its ends it
    goes on straight. down : how far below them it runs.
    """

    points: tuple[tuple[float, float], ...]
    start: float = 0.0
    down: float = 0.0

    @cached_property
    def _along(self) -> tuple[np.ndarray, np.ndarray]:
        """(points, how far along each lies), points on one place left out."""
        points = np.array(self.points, np.float64)
        steps = np.hypot(*np.diff(points, axis=0).T)
        kept = np.concatenate([[True], steps > FLAT])
        points, steps = points[kept], steps[kept[1:]]
        return points, np.concatenate([[0.0], np.cumsum(steps)])

    @property
    def long(self) -> float:
        """All of it."""
        return float(self._along[1][-1])

    def places(self, s: np.ndarray, y: np.ndarray) -> np.ndarray:
        """By the nearest point before and its normal, turning evenly from one to the next."""
        points, along = self._along
        at = np.asarray(s, np.float64) + self.start
        on = np.stack([_beyond(at, along, points[:, n]) for n in (0, 1)], -1)
        turn = self._turn(at)
        down = (np.asarray(y) + self.down)[..., None]
        return on + down * np.stack([-np.sin(turn), np.cos(turn)], -1)

    def turn(self, s: float) -> float:
        """Of the line there."""
        return float(self._turn(np.array([s + self.start]))[0])

    def _turn(self, at: np.ndarray) -> np.ndarray:
        points, along = self._along
        ways = np.diff(points, axis=0)
        turns = np.unwrap(np.arctan2(ways[:, 1], ways[:, 0]))
        middles = (along[1:] + along[:-1]) / 2
        return np.interp(at, middles, turns)

    def lowered(self, by: float) -> "Baseline":
        """Below it all along."""
        return Way(self.points, self.start, self.down + by)


def _beyond(at: np.ndarray, along: np.ndarray, values: np.ndarray) -> np.ndarray:
    """Between points, and straight on beyond them."""
    found = np.interp(at, along, values)
    first = (values[1] - values[0]) / (along[1] - along[0])
    last = (values[-1] - values[-2]) / (along[-1] - along[-2])
    found = found + np.minimum(at - along[0], 0) * first
    return found + np.maximum(at - along[-1], 0) * last


def arc_of(bend: float, width: float) -> Baseline:
    """On which words of that width bend over a share of a circle: upwards in their middle, or down
    below 0.
    """
    if abs(bend) < FLAT or width < FLAT:
        return Way(((-1.0, 0.0), (1.0, 0.0)), 1.0)
    radius = width / (2 * math.pi * bend)
    return Arc(radius, (0.0, radius))


@lru_cache(64)
def wave_of(height: float, length: float, width: float) -> Baseline:
    """A sine, so high from its middle to its crest and so long from crest to crest."""
    reach = width / 2 + length
    x = np.linspace(-reach, reach, 2 * max(8, math.ceil(STEPS * reach / length)) + 1)
    points = np.stack([x, -height * np.sin(2 * math.pi * x / length)], 1)
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    return Way(tuple(map(tuple, points.tolist())), float(along[len(along) // 2]))


def way_of(points: np.ndarray, share: float) -> Baseline:
    """Along points. share : of their length at which s is 0."""
    way = Way(tuple(map(tuple, points.tolist())))
    return Way(way.points, share * way.long)
