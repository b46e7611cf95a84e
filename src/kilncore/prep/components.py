"""What a scan is made of: components that do not go along with each other, each made normally
distributed through a table.

The components are the eigenvectors of its colours' covariance; the normal score of a value is that
of its middle rank (Heitz and Neyret 2018, sections 3 and 4; `pieces` says what they are for).
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.pixels.stored import full_of
from kilncore.prep.normal_scores import BELL, REACHED

BINS = 4096
FINE = np.float32(8000)  # stored scores to one
BAND_PIXELS = 1_000_000


@dataclass(frozen=True)
class Components:
    """What a scan is made of, ready for any size and seed.

    scores : (C, H, W) int16 normal scores, `FINE` to one. tones : (C, BINS) float32, the value of
    each bin. reached : (C, BINS) how much of the scan lies below each. basis, mean : (C, C) and
    (C,) float32, from components to colours.
    """

    scores: np.ndarray
    tones: np.ndarray
    reached: np.ndarray
    basis: np.ndarray
    mean: np.ndarray


def components_of(planes: np.ndarray, ranks: np.ndarray | None = None) -> Components:
    """planes : (C, H, W), as in `pixels.stored`; worked through in bands. ranks : (1, H, W) of one
    plane whose tones are too few to be told apart by: what tells them.
    """
    if ranks is not None:
        return replace(components_of(planes), scores=components_of(ranks).scores)
    mean, basis = _main_directions(planes)
    ends = [(math.inf, -math.inf)] * len(planes)
    for rows in _bands(planes):
        values = _components(planes, rows, mean, basis)
        ends = [
            (min(low, float(one.min())), max(high, float(one.max())))
            for (low, high), one in zip(ends, values, strict=True)
        ]
    lows = np.array([low for low, _ in ends], np.float32)
    scales = np.array([1 / _step(*end) for end in ends], np.float32)
    scores, counts = np.empty(planes.shape, np.int16), np.zeros((len(planes), BINS), np.int64)
    for rows in _bands(planes):
        values = _components(planes, rows, mean, basis)
        _binned(values, lows, scales, counts, scores[:, rows])
    shares = counts / planes[0].size
    reached = np.cumsum(shares, 1)
    middle = np.clip(reached - shares / 2, REACHED[0], REACHED[-1])
    tables = np.rint(np.interp(middle, REACHED, BELL) * FINE).astype(np.int16)
    _through(tables, scores)
    tones = [low + _step(low, high) * np.arange(BINS) for low, high in ends]
    return Components(scores, np.array(tones, np.float32), reached, basis, mean)


def _main_directions(planes: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """(mean, basis), (C,) and (C, C) float32: the eigenvectors of the covariance of colours."""
    count, total = len(planes), planes[0].size
    sums, products = np.zeros(count), np.zeros((count, count))
    for rows in _bands(planes):
        band = _floats(planes, rows).reshape(count, -1).astype(np.float64)
        sums += band.sum(1)
        products += band @ band.T
    mean = sums / total
    covariance = products / total - np.outer(mean, mean)
    basis = np.linalg.eigh(covariance)[1] if count > 1 else np.eye(1)
    basis = basis * np.where(basis.sum(0) < 0, -1.0, 1.0)  # either way would do: always this one
    return mean.astype(np.float32), basis.astype(np.float32)


def _bands(planes: np.ndarray) -> list[slice]:
    tall = max(1, BAND_PIXELS // planes.shape[2])
    return [slice(top, top + tall) for top in range(0, planes.shape[1], tall)]


def _floats(planes: np.ndarray, rows: slice) -> np.ndarray:
    return planes[:, rows] * np.float32(1 / full_of(planes))


def _components(planes: np.ndarray, rows: slice, mean: np.ndarray, basis: np.ndarray) -> np.ndarray:
    """(C, h, W) float32 of a band of rows."""
    band = _floats(planes, rows)
    flat = band.reshape(len(band), -1) - mean[:, None]
    return (basis.T @ flat).reshape(band.shape)


def _step(low: float, high: float) -> float:
    return max(high - low, 1e-6) / (BINS - 1)


@kernel
def _binned(
    values: np.ndarray, lows: np.ndarray, scales: np.ndarray, counts: np.ndarray, out: np.ndarray
):
    channels, rows, columns = values.shape
    last = np.int32(counts.shape[1] - 1)
    for c in range(channels):
        for y in range(rows):
            for x in range(columns):
                place = np.int32((values[c, y, x] - lows[c]) * scales[c] + np.float32(0.5))
                place = min(max(place, np.int32(0)), last)
                counts[c, place] += 1
                out[c, y, x] = np.int16(place)


@kernel
def _through(tables: np.ndarray, out: np.ndarray):
    channels, rows, columns = out.shape
    for c in range(channels):
        for y in range(rows):
            for x in range(columns):
                out[c, y, x] = tables[c, out[c, y, x]]
