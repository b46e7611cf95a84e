"""How soft a picture of crowded detail is, from its spectrum.

A Gaussian blur multiplies the power at frequency f by exp(-4 pi^2 sigma^2 f^2). Specks and grain
that are close together hold no edge that stands by itself, but their power falls off as f to some
power before the blur: both are fitted to the logarithm of the radial power spectrum, above its
noise.
"""

import math

import numpy as np

BINS = 64
ABOVE_NOISE = 8.0
FROM = 0.02  # cycles per px: below, what is large says more than what is soft
STEEPEST = 1.6  # of the fall before the blur: an edge has 1.5
FEWEST = 5
ROUNDING = (1 / 255) ** 2 / 12  # variance of 8 bits


def spectral_softness(grey: np.ndarray) -> float | None:
    """The sigma, px, of the blur that a picture's spectrum shows; None where too little of it lies
    above the noise.

    grey : (H, W) float32, 0..1.
    """
    side = min(grey.shape)
    power, counts = _radial(grey[:side, :side])
    at = (np.arange(BINS) + 0.5) / (2 * BINS)
    rounding = side * side * 0.14 * ROUNDING  # 0.14 : the window's power
    noise = max(float(power[int(BINS * 0.85) :].min()), rounding)
    clear = power > ABOVE_NOISE * noise
    first = int(math.ceil(FROM * 2 * BINS))
    ends = np.flatnonzero(~clear[first:])
    used = slice(first, first + ends[0] if len(ends) else BINS)
    if used.stop - used.start < FEWEST:
        return None
    return _fitted(at[used], np.log(power[used] - noise), np.sqrt(counts[used]))


def _radial(grey: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The mean power in each ring of frequencies up to a half, and of how many."""
    side = len(grey)
    window = np.hanning(side + 2)[1:-1]
    values = (grey - grey.mean()) * np.outer(window, window)
    power = np.abs(np.fft.rfft2(values)) ** 2
    away = np.hypot(np.fft.rfftfreq(side)[None], np.fft.fftfreq(side)[:, None])
    ring = np.minimum((away * 2 * BINS).astype(int), 2 * BINS).ravel()
    counts = np.bincount(ring)[:BINS]
    return np.bincount(ring, power.ravel())[:BINS] / np.maximum(counts, 1), counts


def _fitted(at: np.ndarray, logs: np.ndarray, weights: np.ndarray) -> float:
    parts = np.stack([np.ones_like(at), -4 * math.pi**2 * at**2, -2 * np.log(at)], 1)
    _, variance, fall = np.linalg.lstsq(parts * weights[:, None], logs * weights, rcond=None)[0]
    held = min(max(fall, 0.0), STEEPEST)
    if held != fall:
        logs = logs - held * parts[:, 2]
        two = parts[:, :2] * weights[:, None]
        variance = np.linalg.lstsq(two, logs * weights, rcond=None)[0][1]
    return math.sqrt(max(variance, 0.0))
