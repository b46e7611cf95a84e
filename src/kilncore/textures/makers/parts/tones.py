"""From amounts to tones and colours: soft steps, ramps of colours, bytes."""

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.textures.makers.parts.halves import by_rows

BAND_ROWS = 256


def soft_step(values: np.ndarray, low: float, high: float) -> np.ndarray:
    """0 below low, 1 above high, smooth between."""
    given = np.ascontiguousarray(values, np.float32)
    out = np.empty(given.shape, np.float32)
    least, per = np.float32(low), np.float32(1 / (high - low))
    flat, drawn = given.ravel(), out.ravel()
    by_rows(flat.size, lambda top, end: _stepped(flat, least, per, drawn, top, end))
    return out


def to_bytes(planes: np.ndarray) -> np.ndarray:
    """0..1 to uint8, with an axis for channels; what is no number is 0."""
    planes = np.ascontiguousarray(planes[None] if planes.ndim == 2 else planes, np.float32)
    out = np.empty(planes.shape, np.uint8)
    _rounded(planes.ravel(), out.ravel())
    return out


def ramp(amount: np.ndarray, *colours: tuple[int, int, int]) -> np.ndarray:
    """(3, H, W) float32: 0..1 run through evenly spaced 8-bit colours, two at least."""
    stops = np.array(colours, np.float32) / 255
    if len(stops) < 2:
        raise ValueError("a ramp needs two colours")
    out = np.empty((3, *amount.shape), np.float32)
    amount = np.ascontiguousarray(amount, np.float32)
    by_rows(len(amount), lambda top, end: _ramped(amount, stops, out, top, end))
    return out


def mix(below: np.ndarray, above: np.ndarray, share: np.ndarray | float) -> np.ndarray:
    """`below` itself, changed: `above` laid over it by a share of each pixel. (3, H, W) both."""
    for plane, other in zip(below, above, strict=True):
        plane += share * (other - plane)
    return below


def bands(height: int):
    """Slices of rows, so that what is worked out in between stays small."""
    return [slice(top, min(top + BAND_ROWS, height)) for top in range(0, height, BAND_ROWS)]


@kernel
def _stepped(values: np.ndarray, low: float, per: float, out: np.ndarray, top: int, end: int):
    for n in range(top, end):
        t = min(max(np.float32(0), (values[n] - low) * per), np.float32(1))
        out[n] = t * t * (np.float32(3) - 2 * t)


@kernel
def _rounded(values: np.ndarray, out: np.ndarray):
    for n in range(values.size):
        value = min(max(np.float32(0), values[n]), np.float32(1))
        out[n] = np.uint8(value * np.float32(255) + np.float32(0.5))


@kernel
def _ramped(amount: np.ndarray, stops: np.ndarray, out: np.ndarray, top: int, end: int):
    width = amount.shape[1]
    last = stops.shape[0] - 1
    for y in range(top, end):
        for x in range(width):
            value = min(max(np.float32(0), amount[y, x]), np.float32(1)) * np.float32(last)
            first = min(int(value), last - 1)
            part = value - np.float32(first)
            for c in range(3):
                one = stops[first, c]
                out[c, y, x] = one + (stops[first + 1, c] - one) * part
