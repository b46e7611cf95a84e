"""Pieces of a scan, laid on a triangular grid and blended so that its tones stay as they were.

A scan comes as components that are normally distributed (`components`). Three pieces meet in a
pixel, with the squares of their barycentric weights; their sum is divided by the root of the sum of
the squares of those, which leaves it normally distributed. A table leads back to the scan's tones.

Source: Heitz and Neyret, High-performance by-example noise using a histogram-preserving blending
operator, 2018; Burley, On histogram-preserving blending for randomized texture tiling, JCGT 2019.
Pieces of a scan that drifts from side to side are not quite normal together, and a result may be of
few pieces: so the table back is made of the distribution that they are measured to have.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from kilncore.compiled.cell_hash import cell_bits
from kilncore.compiled.kernels import kernel
from kilncore.prep.components import BAND_PIXELS, BINS, Components
from kilncore.prep.normal_scores import PLACES, WIDE

ROW = math.sqrt(3) / 2  # from one line of the grid to the next, in sides of its triangles
TRIED = 512  # px each way, evenly over all of it, by which the tones of what is laid are told


@dataclass(frozen=True)
class Grid:
    """Of triangles, over a picture whose edges meet. across, down : px from one corner to the next
    of a line, and from line to line. columns, lines : how many there are.
    """

    width: int
    height: int
    across: float
    down: float
    columns: int
    lines: int


def grid_of(width: int, height: int, side: float) -> Grid:
    """Triangles of about that side, as many as fit evenly."""
    columns = max(1, round(width / side))
    lines = 2 * max(1, round(height / (2 * ROW * side)))
    return Grid(width, height, width / columns, height / lines, columns, lines)


@dataclass(frozen=True)
class Copied:
    """What is laid of: a copy of which `unit` px are one of the scan, which has (width, height) px.
    A draft lies as the finished picture does.
    """

    unit: float
    width: int
    height: int


def laid(
    made: Components, width: int, height: int, seed: int, side: float, copied: Copied | None = None
) -> Iterator[tuple[slice, np.ndarray]]:
    """Bands of what is laid from top to bottom: (its rows, (C, h, W) float32, 0..1).

    side : px of the pieces. copied : of components of a smaller copy: so are the bands, while
    width, height and side are those of the finished picture.
    """
    tall, wide = made.scores.shape[1:]
    copied = copied or Copied(1.0, wide, tall)
    grid, step = grid_of(width, height, side), 1 / copied.unit
    columns = width if copied.unit == 1 else max(1, round(width * copied.unit))
    rows = height if copied.unit == 1 else max(1, round(height * copied.unit))
    back = _ways_back(made, grid, seed, copied)
    band = max(1, BAND_PIXELS // columns // 4)
    for top in range(0, rows, band):
        count = min(band, rows - top)
        scores = _blended(made, grid, seed, top, count, columns, step, copied)
        out = np.empty(scores.shape, np.float32)
        _in_colours(scores, back, made.basis, made.mean, np.float32(WIDE), out)
        yield slice(top, top + count), out


def _ways_back(made: Components, grid: Grid, seed: int, copied: Copied) -> np.ndarray:
    """(C, PLACES) float32: the value of each score, so that what is laid has the scan's tones."""
    apart = -(-max(grid.width, grid.height) // TRIED)
    rows, columns = -(-grid.height // apart), -(-grid.width // apart)
    scores = _blended(made, grid, seed, 0, rows, columns, float(apart), copied)
    tables = []
    for score, tones, reached in zip(scores, made.tones, made.reached, strict=True):
        at = np.clip(np.rint((score + WIDE) * ((PLACES - 1) / (2 * WIDE))), 0, PLACES - 1)
        counts = np.bincount(at.astype(np.int64).ravel(), None, PLACES)
        rank = (np.cumsum(counts) - counts / 2) / counts.sum()
        tables.append(tones[np.minimum(np.searchsorted(reached, rank), BINS - 1)])
    return np.stack(tables)


def _blended(
    made: Components,
    grid: Grid,
    seed: int,
    top: int,
    rows: int,
    columns: int,
    step: float = 1.0,
    copied: Copied | None = None,
) -> np.ndarray:
    """(C, rows, columns) float32 normal scores of some rows. step : px of the finished picture from
    one px to the next.
    """
    tall, wide = made.scores.shape[1:]
    copied = copied or Copied(1.0, wide, tall)
    placed = (grid.width, grid.height, grid.across, grid.down, grid.columns, grid.lines)
    whole = copied.width, copied.height, copied.unit
    out = np.empty((len(made.scores), rows, columns), np.float32)
    flat = made.scores.reshape(len(out), -1)
    _pieces(flat, wide, tall, out, top, step, *placed, *whole, np.uint32(seed & 0xFFFFFFFF))
    return out


@kernel
def _in_colours(
    scores: np.ndarray,
    back: np.ndarray,
    basis: np.ndarray,
    mean: np.ndarray,
    wide: float,
    out: np.ndarray,
):
    channels, rows, columns = scores.shape
    last = np.int32(back.shape[1] - 1)
    times = np.float32(last) / (np.float32(2) * wide)
    values = np.empty(columns, np.float32)
    for y in range(rows):
        for k in range(channels):
            for x in range(columns):
                out[k, y, x] = mean[k]
        for c in range(channels):
            for x in range(columns):
                place = np.int32((scores[c, y, x] + wide) * times + np.float32(0.5))
                values[x] = back[c, min(max(place, np.int32(0)), last)]
            for k in range(channels):
                share = basis[k, c]
                for x in range(columns):
                    out[k, y, x] += share * values[x]
        for k in range(channels):
            for x in range(columns):
                out[k, y, x] = min(max(out[k, y, x], np.float32(0)), np.float32(1))


@kernel
def _pieces(
    scores: np.ndarray,
    wide: int,
    tall: int,
    out: np.ndarray,
    top: int,
    step: float,
    width: int,
    height: int,
    across: float,
    down: float,
    columns: int,
    lines: int,
    whole_width: int,
    whole_height: int,
    unit: float,
    seed: int,
):
    channels, rows, shown = out.shape
    far_x, far_y = int(np.ceil(across)) + 1, int(np.ceil(down)) + 1
    # where the middle of a piece may lie, so that all of it lies on the scan
    room_x, room_y = max(whole_width - 2 * far_x, 1), max(whole_height - 2 * far_y, 1)
    other = np.uint32(seed ^ np.uint32(0x9E3779B9))
    share = 1 / 4294967296.0
    weights = np.empty((3, shown), np.float32)
    right, below = np.empty(3), np.empty(3)  # from the picture to the scan, of each piece
    for y in range(rows):
        gy = (y + top + 0.5) * step - height / 2
        v = gy / down
        j = int(np.floor(v))
        t = v - j
        first = 0
        while first < shown:
            # from here on the same three pieces meet, up to the next side of a triangle
            gx = (first + 0.5) * step - width / 2
            u = gx / across - v / 2
            i = int(np.floor(u))
            upper = u - i + t >= 1
            end = (i + (1 if upper else 1 - t) + v / 2) * across
            stop = int(np.ceil((end + width / 2) / step - 0.5))
            stop = min(max(stop, first + 1), shown)
            for corner in range(3):
                m = i + 1 if corner == 1 or (corner == 0 and upper) else i
                n = j + 1 if corner == 2 or (corner == 0 and upper) else j
                line = (n + lines // 2) % lines - lines // 2
                column = (m + (n - line) // 2 + columns // 2) % columns - columns // 2
                a, b = np.int32(column), np.int32(line)
                left = far_x + int(cell_bits(a, b, seed) * share * room_x)
                above = far_y + int(cell_bits(a, b, other) * share * room_y)
                right[corner] = left - (m + n / 2) * across
                below[corner] = above - n * down
            s0, ds = np.float32(u - i), np.float32(step / across)
            t0, one = np.float32(t), np.float32(1)
            for x in range(first, stop):
                s = s0 + np.float32(x - first) * ds
                w0 = s + t0 - one if upper else one - s - t0
                w1 = one - t0 if upper else s
                w2 = one - s if upper else t0
                w0, w1, w2 = w0 * w0, w1 * w1, w2 * w2
                scale = one / (np.sqrt(w0 * w0 + w1 * w1 + w2 * w2) * np.float32(8000))
                weights[0, x], weights[1, x], weights[2, x] = w0 * scale, w1 * scale, w2 * scale
            for corner in range(3):
                py = int(np.floor((below[corner] + gy) * unit))
                row = min(max(py, 0), tall - 1) * wide
                begun = int(np.floor((right[corner] + gx) * unit))
                if step == 1 and begun >= 0 and begun + stop - first <= wide:
                    for c in range(channels):
                        if corner == 0:
                            for x in range(first, stop):
                                place = row + begun + x - first
                                out[c, y, x] = weights[0, x] * np.float32(scores[c, place])
                        else:
                            for x in range(first, stop):
                                place = row + begun + x - first
                                out[c, y, x] += weights[corner, x] * np.float32(scores[c, place])
                    continue
                for x in range(first, stop):
                    px = int(np.floor((right[corner] + gx + (x - first) * step) * unit))
                    px = min(max(px, 0), wide - 1)
                    for c in range(channels):
                        value = weights[corner, x] * np.float32(scores[c, row + px])
                        out[c, y, x] = value if corner == 0 else out[c, y, x] + value
            first = stop
