"""Black and white points for a wanted share, in closed form from how often each tone occurs.

Tones are kept through k = clamp((t - b) / c): hidden at the black point b, shown at the white point
b + c. With F the cumulative histogram, the share that is taken away is (1 / c) times the integral
of F from b to b + c, which only grows with b: it is found by bisection.
"""

import numpy as np

STEPS = 60
LEAST_CONTRAST = 1e-4


def taken(counts: np.ndarray, black: float, contrast: float) -> float:
    """The mean of 1 - k: how much is taken away, 0..1. counts : of tones spread evenly over
    0..1.
    """
    tones = np.linspace(0, 1, len(counts))
    kept = np.clip((tones - black) / max(contrast, LEAST_CONTRAST), 0, 1)
    return float(((1 - kept) * counts).sum() / max(counts.sum(), 1))


def black_point(counts: np.ndarray, share: float, contrast: float) -> float:
    """The black point at which a share is taken away.

    Parameters
    ----------
    counts : (N,) float array
        How often each tone occurs, from 0 to 1.
    share : float
        0..1.
    contrast : float
        How far above it the white point lies.

    Returns
    -------
    float
        From -contrast, where nothing is taken, to 1, where all is.

    References
    ----------
    docs/wear.md.
    """
    low, high = -max(contrast, LEAST_CONTRAST), 1.0 + 1e-9
    if share <= 0 or share >= 1:
        return low if share <= 0 else high
    for _ in range(STEPS):
        middle = (low + high) / 2
        if taken(counts, middle, contrast) < share:
            low = middle
        else:
            high = middle
    return (low + high) / 2


def otsu(counts: np.ndarray) -> float:
    """The tone that parts dark from light with the most variance between the two.

    Source: N. Otsu, A threshold selection method from gray-level histograms, IEEE Transactions on
    Systems, Man and Cybernetics 9 (1979).
    """
    total = max(counts.sum(), 1)
    tones = np.linspace(0, 1, len(counts))
    below = np.cumsum(counts) / total
    mean = np.cumsum(counts * tones) / total
    apart = below * (1 - below)
    between = np.where(apart > 1e-12, (mean[-1] * below - mean) ** 2 / np.maximum(apart, 1e-12), 0)
    best = np.flatnonzero(between >= between.max() * (1 - 1e-9))
    return float(tones[best].mean()) if between.max() > 0 else 0.5
