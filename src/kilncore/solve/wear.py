"""The black and white points of a wear that take away a wanted share of a mark."""

import numpy as np

from kilncore.errors import KilnError
from kilncore.solve.points import black_point

BINS = 4096


def wear_points(
    tone: np.ndarray,
    coverage: np.ndarray,
    share: float,
    contrast: float = 0.25,
    bias: np.ndarray | None = None,
) -> tuple[float, float]:
    """The points at which a mask takes away a share of what a mark covers.

    A mask keeps clamp((tone + bias - black) / (white - black)) of the mark. The points may lie
    outside 0..1 where all or nothing is to go.

    Parameters
    ----------
    tone : (H, W) float array
        0..1, of full-size pixels: averaged ones have other tones.
    coverage : (H, W) float array
        0..1, of the mark: how much each pixel counts.
    share : float
        0..1.
    contrast : float
        How far apart the points are.
    bias : (H, W) float array, optional
        Is added to the tone first; it may leave 0..1.

    Returns
    -------
    (black, white)
        `contrast` apart.

    Raises
    ------
    KilnError
        For planes of different sizes, without coverage, or numbers out of range.

    References
    ----------
    docs/wear.md.
    """
    tone, coverage = (np.asarray(one, np.float64) for one in (tone, coverage))
    if tone.ndim != 2 or tone.shape != coverage.shape:
        raise KilnError(
            "Tone and coverage must be planes of one size.", f"{tone.shape}, {coverage.shape}"
        )
    if not (0 <= share <= 1 and 0 < contrast <= 1):
        raise KilnError(
            "A share is from 0 to 1, a contrast above 0 and up to 1.", f"{share}, {contrast}"
        )
    if bias is not None:
        bias = np.asarray(bias, np.float64)
        if bias.shape != tone.shape:
            raise KilnError("The bias must be as large as the tone.", str(bias.shape))
        tone = tone + bias
    coverage = np.clip(np.nan_to_num(coverage), 0, 1)
    if not coverage.sum():
        raise KilnError("There is nothing to wear: the coverage is empty.")
    counts, least, most = weighed(np.nan_to_num(tone), coverage)
    span = max(most - least, 1e-9)
    black = least + span * black_point(counts, share, min(contrast / span, 1e6))
    return black, black + contrast


def weighed(tone: np.ndarray, coverage: np.ndarray) -> tuple[np.ndarray, float, float]:
    """(counts, least, most): how much of the coverage has each of BINS tones from the least to the
    largest; shared between the two nearest, so that means stay.
    """
    least, most = float(tone.min()), float(tone.max())
    at = (tone - least) * ((BINS - 1) / max(most - least, 1e-9))
    low = np.minimum(at.astype(np.int64), BINS - 2)
    part = (at - low).ravel()
    weights, low = coverage.ravel(), low.ravel()
    counts = np.bincount(low, weights * (1 - part), BINS)
    return counts + np.bincount(low + 1, weights * part, BINS), least, most
