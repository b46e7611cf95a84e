"""Working through planes band by band: floats are only ever made of one band, and memory stays that
of the stored planes.
"""

from collections.abc import Callable

import numpy as np

from kilncore.pixels.stored import deep, deepened, full_of, held_to_alpha, put, straight

BAND_PIXELS = 1_500_000


def places(first: int, stop: int, size: int, wraps: bool) -> np.ndarray:
    """The rows first .. stop - 1 of a picture with so many, beyond its ends from the other end or
    mirrored (its own last row again)."""
    at = np.arange(first, stop)
    if wraps:
        return at % size
    at = at % (2 * size)
    return np.where(at < size, at, 2 * size - 1 - at)


def floats(plane: np.ndarray, rows: np.ndarray, reach: int, wraps: bool) -> np.ndarray:
    """(rows, W + 2 reach) float32, 0..1: those rows of a plane, with a border to both sides."""
    height, width = plane.shape
    columns = places(-reach, width + reach, width, wraps)
    values = plane[rows] if not reach else plane[rows][:, columns]
    return values * np.float32(1 / full_of(plane))


def by_bands(
    planes: np.ndarray,
    work: Callable[[np.ndarray, int], np.ndarray],
    reach: int = 0,
    wraps: bool = False,
) -> np.ndarray:
    """The planes, each worked on in bands.

    work(band, top) : of (rows + 2 reach, W + 2 reach) float32, 0..1, whose border it uses up; top
    is the first row that comes of it. Alpha of premultiplied planes is worked on like a colour.
    """
    count, height, width = planes.shape
    out = np.empty((count, height, width), deep(planes.dtype))
    tall = max(16, BAND_PIXELS // width)
    for plane, made in zip(planes, out, strict=True):
        for top in range(0, height, tall):
            stop = min(top + tall, height)
            rows = places(top - reach, stop + reach, height, wraps)
            put(work(floats(plane, rows, reach, wraps), top), made[top:stop])
    return held_to_alpha(out)


def through(planes: np.ndarray, curve: Callable[[np.ndarray], np.ndarray]) -> np.ndarray:
    """The planes' colours through a curve of tones, 0..1 to 0..1; alpha stays."""
    if len(planes) == 4:
        colours, alpha = straight(planes)
        assert alpha is not None
        made, kept = through(colours, curve), deepened(alpha)
        share = kept * np.float32(1 / full_of(kept))
        held = [np.rint(one * share) if kept.dtype.kind != "f" else one * share for one in made]
        return np.stack([*held, kept]).astype(kept.dtype)
    if planes.dtype.kind == "f":
        return np.clip(curve(planes), 0, 1).astype(np.float32)
    full = full_of(planes)
    table = np.empty(full + 1, np.uint16)
    put(curve(np.linspace(0, 1, full + 1, dtype=np.float64)), table)
    out = np.empty(planes.shape, np.uint16)
    tall = max(1, BAND_PIXELS // planes.shape[2])  # taking turns indices into 8 bytes each
    for plane, made in zip(planes, out, strict=True):
        for top in range(0, len(plane), tall):
            np.take(table, plane[top : top + tall], out=made[top : top + tall], mode="clip")
    return out
