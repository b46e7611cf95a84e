"""Places of a texture on a mark, found by correlation: its heavy patches fall where wear is wanted,
and where the mark must be clear there is little of it.

The score of a shift is the sum of the weights times the texture's heaviness there. The texture is a
torus: weights are folded into it by adding, and all shifts are scored at once by a fast Fourier
transform. Turns and flips are given to the weights, not to the texture.
"""

from dataclasses import dataclass

import numpy as np

APART = 0.16  # of the texture's smaller side: nearer places are one


@dataclass(frozen=True)
class Found:
    """orientation : its number. down, across : cells. deviations : above the mean of all shifts."""

    orientation: int
    down: int
    across: int
    deviations: float


def scores(heaviness: np.ndarray, folded: np.ndarray) -> np.ndarray:
    """The sum over cells c of folded[c] * heaviness[c + shift], of every shift of a torus.

    Parameters
    ----------
    heaviness, folded : (H, W) float array
        Of the torus.

    Returns
    -------
    (H, W) float array
        A score for each shift.

    References
    ----------
    The correlation theorem.
    """
    spectrum = np.conj(np.fft.rfft2(folded)) * np.fft.rfft2(heaviness - heaviness.mean())
    return np.fft.irfft2(spectrum, heaviness.shape)


def folded(rows: np.ndarray, columns: np.ndarray, weights: np.ndarray, size: tuple) -> np.ndarray:
    """(H, W): weights at places, in cells, added up modulo the size."""
    height, width = size
    at = (
        np.floor(rows).astype(np.int64) % height * width
        + np.floor(columns).astype(np.int64) % width
    )
    return np.bincount(at, weights, height * width).reshape(size)


def best(heaviness: np.ndarray, weights: list[np.ndarray], count: int) -> list[Found]:
    """The best places, far apart from one another. weights : folded, for each orientation."""
    places = []
    for orientation, one in enumerate(weights):
        scored = scores(heaviness, one)
        spread = max(float(scored.std()), 1e-12)
        places += [
            Found(orientation, down, across, float(scored[down, across]) / spread)
            for down, across in _peaks(scored, count)
        ]
    return sorted(places, key=lambda one: -one.deviations)[:count]


def _peaks(scored: np.ndarray, count: int):
    """The largest values, each as far from the others as `APART`, on the torus."""
    left, (height, width) = scored.copy(), scored.shape
    radius = max(1, round(APART * min(height, width)))
    for _ in range(count):
        down, across = np.unravel_index(int(np.argmax(left)), left.shape)
        if not np.isfinite(left[down, across]):
            return
        yield int(down), int(across)
        rows = np.arange(down - radius, down + radius + 1) % height
        columns = np.arange(across - radius, across + radius + 1) % width
        left[np.ix_(rows, columns)] = -np.inf
