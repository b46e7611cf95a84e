"""Tones made normally distributed, and back: by rank, through tables."""

import math

import numpy as np

from kilncore.prep.tone_counts import TONES, tone_counts

WIDE = 4.0  # standard deviations to each side
PLACES = 4097
BELL = np.linspace(-WIDE, WIDE, PLACES)
REACHED = np.array([0.5 * (1 + math.erf(at / math.sqrt(2))) for at in BELL])


class NormalScores:
    """Of one plane: the normal score of each of its tones is that of its middle rank."""

    def __init__(self, plane: np.ndarray):
        counts = tone_counts(plane[None])
        above = np.cumsum(counts) / max(counts.sum(), 1)
        self._reached = above
        middle = np.clip(above - counts / max(counts.sum(), 1) / 2, REACHED[0], REACHED[-1])
        self._scores = np.interp(middle, REACHED, BELL).astype(np.float32)
        tones = np.minimum(np.searchsorted(above, REACHED), TONES - 1) / (TONES - 1)
        self._tones = tones.astype(np.float32)

    def of(self, tones: np.ndarray) -> np.ndarray:
        """Scores of tones, 0..1."""
        return self._scores[np.rint(tones * (TONES - 1)).astype(np.int64)]

    def back(self, scores: np.ndarray) -> np.ndarray:
        """Tones, 0..1, of scores."""
        at = (scores + WIDE) * np.float32((PLACES - 1) / (2 * WIDE))
        return self._tones[np.clip(np.rint(at), 0, PLACES - 1).astype(np.int64)]
