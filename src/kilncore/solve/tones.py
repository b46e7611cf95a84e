"""How much of each part of a mark lies under each tone of a mask: from that, the points that take a
share away, and what no part may lose.

Tones are hidden up to a black point, shown from a white point on, and the share that is taken is a
sum over the histogram; it only grows with the black point, which is found by bisection.
"""

import math
import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np

BINS = 4096
STEPS = 42  # halvings: to 1e-12 of the range
THINNED = 0.15  # of a mark: so much, and as much again as is taken, may lie in soft edges
LEAST_SOFT = 2 / 255  # of all tones
HARDENED = 12  # halvings
NARROW, LUMP = 1.5 / 255, 0.2  # of all tones; of the mark: so many px are a lump
ALL = 0.985  # of the mark: more is as good as all of it
WIDEST_RAMP = 1e4  # tones: at so small a strength hardly anything is taken
WIDEST = 0.6  # of a shift of tones, either way


@dataclass(eq=False)
class Tones:
    """Of the parts of a mark, by row: counts, (P, BINS), of what lies under each tone; had, (P,),
    all that there is of it; gone, (P,), what is taken whatever the points are. Rows stand in the
    order of `labels`; label 0 is what belongs to no part. low, high : the tones of the first and
    last bin. sampled : of some of the mark, for a draft: then shares are told from running sums,
    which is quicker, and as exact, but not to the last bit.
    """

    labels: np.ndarray
    counts: np.ndarray
    had: np.ndarray
    gone: np.ndarray
    low: float = 0.0
    high: float = 1.0
    sampled: bool = False
    _known: dict = field(default_factory=dict)
    _lock: Any = field(default_factory=threading.RLock, repr=False)

    @property
    def nbytes(self) -> int:
        """Of its tables."""
        return self.counts.nbytes + 100 * len(self.labels)

    @cached_property
    def _tones(self) -> np.ndarray:
        return np.linspace(self.low, self.high, BINS)

    @cached_property
    def _running(self) -> tuple[np.ndarray, np.ndarray]:
        """(P, BINS + 1) each: by part, what lies under the first so many tones, and those tones
        added up.
        """
        sums = (np.cumsum(one, 1, np.float64) for one in (self.counts, self.counts * self._tones))
        counts, tones = (np.pad(one, ((0, 0), (1, 0))) for one in sums)
        return counts, tones

    def _below(self, tone: float) -> np.ndarray:
        """(P,) how far below a tone its px lie, added up."""
        counts, tones = self._running
        first = int(np.searchsorted(self._tones, tone))
        return counts[:, first] * tone - tones[:, first]

    def lost(self, black: float, white: float, gamma: float = 1.0) -> np.ndarray:
        """(P,) the share of each part that is taken between these points, no floor in the way."""
        span = max(white - black, 1e-6)
        if self.sampled and gamma == 1:
            hid = (self._below(black + span) - self._below(black)) / span
            return (hid + self.gone) / np.maximum(self.had, 1e-9)
        hidden = 1 - np.clip((self._tones - black) / span, 0, 1) ** (1 / gamma)
        return (self.counts @ hidden.astype(np.float32) + self.gone) / np.maximum(self.had, 1e-9)

    def taken(self, black: float, white: float, least: float = 0.0, gamma: float = 1.0) -> float:
        """The share of the mark that goes between these points. least : that each part keeps."""
        lost = self._floored(self.lost(black, white, gamma), least)
        return float((lost * self.had).sum() / max(self.had.sum(), 1e-9))

    def _floored(self, lost: np.ndarray, least: float) -> np.ndarray:
        if not least:
            return lost
        most = np.maximum(1 - least, self.gone / np.maximum(self.had, 1e-9))
        return np.where(self.labels > 0, np.minimum(lost, most), lost)

    def points(self, share: float, contrast: float, least: float = 0.0) -> tuple[float, float]:
        """(black, white) at which `share` of the mark is taken away; all that can be, where that is
        less.
        """
        key = share, contrast, least
        with self._lock:  # tiles ask from all threads
            if key not in self._known:
                self._known[key] = self._cutting(share, contrast, least)
            return self._known[key]

    def weaker(self, black: float, white: float, gamma: float, least: float, share: float) -> float:
        """The black point at which `share`, 0..1, of what these points take is taken, with the same
        white point.
        """
        key = "weaker", black, white, gamma, least, share
        with self._lock:
            if key not in self._known:
                self._known[key] = self._weaker(black, white, gamma, least, share)
            return self._known[key]

    def _weaker(
        self, black: float, white: float, gamma: float, least: float, share: float
    ) -> float:
        wanted = share * self.taken(black, white, least, gamma)
        low, high = math.log(max(white - black, 1e-6)), math.log(WIDEST_RAMP)
        for _ in range(STEPS):
            middle = (low + high) / 2
            more = self.taken(white - math.exp(middle), white, least, gamma) > wanted
            low, high = (middle, high) if more else (low, middle)
        return white - math.exp(low)

    def _cutting(self, share: float, contrast: float, least: float) -> tuple[float, float]:
        """The points that cut: as soft as is wanted, and harder where that would only thin what is
        left. Where many px have one and the same tone, all of them stay or all of them go.
        """
        points = self._solved(share, contrast, least)
        most = THINNED + share
        if self._thinned(*points) > most:
            low, high = LEAST_SOFT, contrast
            for _ in range(HARDENED):
                middle = (low + high) / 2
                thin = self._thinned(*self._solved(share, middle, least)) > most
                low, high = (low, middle) if thin else (middle, high)
            points = self._solved(share, low, least)
        return self._beside_lumps(points, share, least)

    def _solved(self, share: float, contrast: float, least: float) -> tuple[float, float]:
        black = self._bisected(lambda one: self.taken(one, one + contrast, least), share, contrast)
        return black, black + contrast

    def _thinned(self, black: float, white: float) -> float:
        """The share of the mark that would be neither kept nor taken."""
        kept = (self._tones - black) / max(white - black, 1e-6)
        some = self.counts.sum(0)
        return float(some[(kept > 0.04) & (kept < 0.96)].sum() / max(some.sum(), 1e-9))

    def _beside_lumps(self, points: tuple, share: float, least: float) -> tuple[float, float]:
        """The points, moved off a lump of one tone that they would part."""
        black, white = points
        wide = white - black
        for low, high in self._lumps():
            if high <= black or low >= white:
                continue
            ways = [(low - wide, low), (high, high + wide)]
            shares = [self.taken(*way, least) for way in ways]
            off = [abs(one - share) + (1 if one > ALL > share else 0) for one in shares]
            black, white = ways[int(off[1] < off[0])]
        return black, white

    def _lumps(self) -> list[tuple[float, float]]:
        """(first tone, last tone) of the bins in which very many px lie."""
        some, tones = self.counts.sum(0), self._tones
        narrow = max(1, round(NARROW * BINS / (self.high - self.low)))
        within = np.convolve(some, np.ones(narrow), "same") >= LUMP * max(some.sum(), 1e-9)
        edges = np.flatnonzero(np.diff(np.concatenate([[0], within.astype(np.int8), [0]])))
        return [(float(tones[a]), float(tones[b - 1])) for a, b in edges.reshape(-1, 2)]

    def _bisected(self, taken: Callable, share: float, contrast: float) -> float:
        low, high = self.low - contrast, self.high + 1e-9
        if share <= 0 or taken(low) >= share:
            return low
        if share >= 1 or taken(high) < share - 1e-9:
            return self._least_for(taken, taken(high), low, high)
        for _ in range(STEPS):
            middle = (low + high) / 2
            low, high = (middle, high) if taken(middle) < share else (low, middle)
        return (low + high) / 2

    @staticmethod
    def _least_for(taken: Callable, most: float, low: float, high: float) -> float:
        """The lowest black point that takes about as much as any can: what is not to be had is not
        pulled at.
        """
        for _ in range(STEPS):
            middle = (low + high) / 2
            low, high = (middle, high) if taken(middle) < most - 1e-4 else (low, middle)
        return high

    def lifts(self, black: float, white: float, least: float, gamma: float = 1.0) -> np.ndarray:
        """By label, how far each part's tones are lifted so that it keeps `least`: 0 for most."""
        lifted = np.zeros(int(self.labels.max(initial=0)) + 1, np.float32)
        if not least:
            return lifted
        key = "lifts", black, white, least, gamma
        with self._lock:
            if key not in self._known:
                lost = self.lost(black, white, gamma)
                for row in np.flatnonzero((self.labels > 0) & (lost > 1 - least + 1e-6)):
                    lifted[self.labels[row]] = self._lift(int(row), black, white, least, gamma)
                self._known[key] = lifted
            return self._known[key]

    def _lift(self, row: int, black: float, white: float, least: float, gamma: float) -> float:
        one = Tones(
            self.labels[row : row + 1],
            self.counts[row : row + 1],
            self.had[row : row + 1],
            self.gone[row : row + 1],
            self.low,
            self.high,
            self.sampled,
        )
        low, high = 0.0, white - self.low + 1e-6
        for _ in range(STEPS):
            middle = (low + high) / 2
            lost = float(one.lost(black - middle, white - middle, gamma)[0])
            low, high = (middle, high) if lost > 1 - least else (low, middle)
        return high
