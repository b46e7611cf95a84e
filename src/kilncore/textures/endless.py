"""A scan of any size that never repeats: pieces of it, laid on a triangular grid and blended so
that its tones stay as they were.

Colours are turned into components that do not go along with each other (the eigenvectors of their
covariance). Each is made normally distributed through a table. Three pieces meet in a pixel, with
the squares of their barycentric weights; their sum is divided by the root of the sum of the squares
of those, which leaves it normally distributed. A table leads back to the scan's own tones.

Source: Heitz and Neyret, High-performance by-example noise using a histogram-preserving blending
operator, 2018; Burley, On histogram-preserving blending for randomized texture tiling, JCGT 2019.
Pieces of a scan that drifts from side to side are not quite normal together, and a result may be of
few pieces: so the table back is made of the distribution that they are measured to have.
"""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from kilncore.compiled.cell_hash import cell_bits
from kilncore.compiled.kernels import kernel
from kilncore.measure.speck_size import coarseness
from kilncore.pixels.luma import luminance_rows
from kilncore.prep.normal_scores import BELL, PLACES, REACHED, WIDE

SPECKS_ACROSS = 8.0  # of a piece
# of a piece, too: the specks of a copy this much coarser, of which fine ones are averaged away
PATCHES_ACROSS, COARSER = 2.5, 8
LEAST_PX, MOST_SHARE = 8.0, 1 / 3  # of a piece: px, and of the scan's shorter side
ROW = math.sqrt(3) / 2  # from one line of the grid to the next, in sides of its triangles
BINS = 4096
FINE = np.float32(8000)  # stored scores to one
BAND_ROWS = 256
TRIED = 512  # px each way, evenly over all of it, by which the tones of what is laid are told
MOST_PX = 32_768


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


def endless(
    image: np.ndarray, width: int, height: int, seed: int = 1, piece_px: float | None = None
) -> np.ndarray:
    """A scan laid endlessly: of any size, its edges meet, and nothing in it is seen twice.

    Parameters
    ----------
    image : (H, W, C) float array
        0..1.
    width, height : int
        Of the result, px; 1 to 32,768.
    seed : int
        Of 32 bits: which pieces lie where.
    piece_px : float, optional
        Size of the pieces; None: as `piece_size` says, at most a third of the scan's shorter side.

    Returns
    -------
    (height, width, C) float32 array
        0..1, the same for the same seed.

    Raises
    ------
    ValueError
        For an image or a size that cannot be.

    References
    ----------
    The module says the method.
    """
    image = np.asarray(image, np.float32)
    if image.ndim != 3 or not image.size:
        raise ValueError(f"an image must be (H, W, C), not {image.shape}")
    if not (1 <= width <= MOST_PX and 1 <= height <= MOST_PX):
        raise ValueError(f"{width} x {height} px is no size")
    planes = np.ascontiguousarray(np.moveaxis(np.clip(np.nan_to_num(image), 0, 1), 2, 0))
    side = piece_size(planes) if piece_px is None else held_size(planes, piece_px)
    return np.moveaxis(laid(components_of(planes), width, height, seed, side), 0, 2)


def piece_size(planes: np.ndarray) -> float:
    """Px of a piece that holds about 8 of the scan's specks, and 2 or 3 of the patches that they
    come in. planes : (C, H, W), 0..1."""
    grey = luminance_rows(planes[:3] if len(planes) >= 3 else planes[:1])
    if min(grey.shape) < 8 * COARSER:
        return held_size(planes, math.inf)
    small = grey[: grey.shape[0] // COARSER * COARSER, : grey.shape[1] // COARSER * COARSER]
    small = small.reshape(small.shape[0] // COARSER, COARSER, -1, COARSER).mean((1, 3))
    patches = PATCHES_ACROSS * COARSER * coarseness(small)
    return held_size(planes, max(SPECKS_ACROSS * coarseness(grey), patches))


def held_size(planes: np.ndarray, side: float) -> float:
    """A size that pieces of a scan may have."""
    most = max(1.0, MOST_SHARE * min(planes.shape[1:]))
    return float(min(max(side, LEAST_PX), most)) if math.isfinite(side) else most


def components_of(planes: np.ndarray) -> Components:
    """planes : (C, H, W) float32, 0..1."""
    flat = planes.reshape(len(planes), -1)
    mean = flat.mean(1, dtype=np.float64)
    around = flat - mean[:, None].astype(np.float32)
    basis = np.linalg.eigh(around @ around.T / flat.shape[1])[1] if len(flat) > 1 else np.eye(1)
    basis = basis * np.where(basis.sum(0) < 0, -1.0, 1.0)  # either way would do: always this one
    values = (basis.T.astype(np.float32) @ around).reshape(planes.shape)
    made = [_scored(value) for value in values]
    scores, tones, reached = (np.stack(one) for one in zip(*made, strict=True))
    return Components(scores, tones, reached, basis.astype(np.float32), mean.astype(np.float32))


def _scored(value: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(scores, the value of each bin, how much lies below each) of one component."""
    low, high = float(value.min()), float(value.max())
    step = max(high - low, 1e-6) / (BINS - 1)
    bins = np.rint((value - np.float32(low)) * np.float32(1 / step)).astype(np.int64)
    bins = np.clip(bins, 0, BINS - 1)
    counts = np.bincount(bins.ravel(), None, BINS) / value.size
    reached = np.cumsum(counts)
    middle = np.clip(reached - counts / 2, REACHED[0], REACHED[-1])
    table = np.rint(np.interp(middle, REACHED, BELL) * FINE).astype(np.int16)
    tones = (low + step * np.arange(BINS)).astype(np.float32)
    return table[bins], tones, reached


def grid_of(width: int, height: int, side: float) -> Grid:
    """Triangles of about that side, as many as fit evenly."""
    columns = max(1, round(width / side))
    lines = 2 * max(1, round(height / (2 * ROW * side)))
    return Grid(width, height, width / columns, height / lines, columns, lines)


def laid(made: Components, width: int, height: int, seed: int, side: float) -> np.ndarray:
    """(C, height, width) float32, 0..1. side : px of the pieces."""
    grid = grid_of(width, height, side)
    back = _ways_back(made, grid, seed)
    out = np.empty((len(made.scores), height, width), np.float32)
    for top in range(0, height, BAND_ROWS):
        rows = min(BAND_ROWS, height - top)
        scores = _blended(made, grid, seed, top, rows, width)
        out[:, top : top + rows] = _in_colours(scores, made, back)
    return out


def _ways_back(made: Components, grid: Grid, seed: int) -> np.ndarray:
    """(C, PLACES) float32: the value of each score, so that what is laid has the scan's tones."""
    apart = -(-max(grid.width, grid.height) // TRIED)
    rows, columns = -(-grid.height // apart), -(-grid.width // apart)
    scores = _blended(made, grid, seed, 0, rows, columns, apart)
    tables = []
    for score, tones, reached in zip(scores, made.tones, made.reached, strict=True):
        counts = np.bincount(_place(score).ravel(), None, PLACES)
        rank = (np.cumsum(counts) - counts / 2) / counts.sum()
        at = np.minimum(np.searchsorted(reached, rank), BINS - 1)
        tables.append(tones[at])
    return np.stack(tables)


def _place(score: np.ndarray) -> np.ndarray:
    at = (score + np.float32(WIDE)) * np.float32((PLACES - 1) / (2 * WIDE))
    return np.clip(np.rint(at), 0, PLACES - 1).astype(np.int64)


def _in_colours(scores: np.ndarray, made: Components, back: np.ndarray) -> np.ndarray:
    values = np.stack([table[_place(one)] for table, one in zip(back, scores, strict=True)])
    colours = np.tensordot(made.basis, values, 1) + made.mean[:, None, None]
    return np.clip(colours, 0, 1)


def _blended(
    made: Components, grid: Grid, seed: int, top: int, rows: int, columns: int, apart: int = 1
) -> np.ndarray:
    """(C, rows, columns) float32 normal scores of some rows, or of px that lie apart."""
    told: tuple[Any, ...] = (grid.width, grid.height, grid.across, grid.down)
    told = *told, grid.columns, grid.lines, np.uint32(seed & 0xFFFFFFFF)
    return _pieces(made.scores, top, rows, columns, apart, *told)


@kernel
def _pieces(
    scores: np.ndarray,
    top: int,
    rows: int,
    shown: int,
    apart: int,
    width: int,
    height: int,
    across: float,
    down: float,
    columns: int,
    lines: int,
    seed: int,
):
    channels, tall, wide = scores.shape
    out = np.zeros((channels, rows, shown), np.float32)
    far_x, far_y = int(np.ceil(across)) + 1, int(np.ceil(down)) + 1
    # where the middle of a piece may lie, so that all of it lies on the scan
    room_x, room_y = max(wide - 2 * far_x, 1), max(tall - 2 * far_y, 1)
    other = np.uint32(seed ^ np.uint32(0x9E3779B9))
    for y in range(rows):
        gy = y * apart + top + 0.5 - height / 2
        v = gy / down
        for x in range(shown):
            gx = x * apart + 0.5 - width / 2
            u = gx / across - v / 2
            i, j = int(np.floor(u)), int(np.floor(v))
            s, t = u - i, v - j
            upper = s + t >= 1
            total = np.float32(0)
            for corner in range(3):
                if corner == 0:
                    m, n = (i + 1, j + 1) if upper else (i, j)
                    weight = s + t - 1 if upper else 1 - s - t
                elif corner == 1:
                    m, n = i + 1, j
                    weight = 1 - t if upper else s
                else:
                    m, n = i, j + 1
                    weight = 1 - s if upper else t
                share = np.float32(weight * weight)
                total += share * share
                line = (n + lines // 2) % lines - lines // 2
                column = (m + (n - line) // 2 + columns // 2) % columns - columns // 2
                a, b = np.int32(column), np.int32(line)
                left = far_x + int(cell_bits(a, b, seed)) % room_x
                above = far_y + int(cell_bits(a, b, other)) % room_y
                px = left + int(np.floor(gx - (m + n / 2) * across))
                py = above + int(np.floor(gy - n * down))
                px, py = min(max(px, 0), wide - 1), min(max(py, 0), tall - 1)
                for c in range(channels):
                    out[c, y, x] += share * np.float32(scores[c, py, px])
            scale = np.float32(1) / (np.sqrt(total) * np.float32(8000))
            for c in range(channels):
                out[c, y, x] *= scale
    return out
