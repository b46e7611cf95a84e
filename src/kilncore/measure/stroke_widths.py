"""The thinnest stroke and the largest hole of a shape.

Discs of growing size are fitted into the shape (granulometry by openings; Matheron, Random sets and
integral geometry, 1975). The first that does not fit somewhere, ends and corners apart, tells which
stroke is the thinnest; its width is what is covered along lines across it. Distances come from
antialiased coverage, to a fraction of a pixel (`pixels.distance`).
"""

from dataclasses import dataclass

import numpy as np

from kilncore.errors import KilnError
from kilncore.model.units import px_to_mm
from kilncore.system.opencv import cv2

SPECK_PX = 3.0  # of area: smaller crumbs are no strokes
MOST_PX = 500.0
FIRST_PX, GROWTH = 0.6, 1.12  # radii of the discs that are tried
LOOSE_PX = 0.75  # a disc's middle lies on a pixel
LIKE_A_STROKE = 0.8  # of the disc: thinner rests are ends and corners
LEAST_LONG = 8  # px: shorter rests are too
LINES, TURNS, STEP, GAP = 60, 16, 0.25, 0.05
LEAST_HOLE_PX = 0.8  # across: smaller ones are antialiasing


def strokes(coverage: np.ndarray, ppi: float) -> dict[str, float]:
    """The thinnest stroke and the largest hole of a shape.

    A hole is what is open within the shape, touching no border; its size is that of the largest
    disc that fits.

    Parameters
    ----------
    coverage : (H, W) float array
        0..1.
    ppi : float
        Px per inch, for mm.

    Returns
    -------
    dict of float
        "thinnest_px", "thinnest_mm", "largest_hole_px" and "largest_hole_mm"; 0 where there are
        none.

    Raises
    ------
    KilnError
        For anything but a plane, or a ppi of 0.
    """
    coverage = np.asarray(coverage, np.float32)
    if coverage.ndim != 2 or min(coverage.shape) < 3 or not ppi > 0:
        raise KilnError(
            "Strokes are read of a plane, at a ppi above 0.", f"{coverage.shape}, {ppi}"
        )
    coverage = np.clip(np.nan_to_num(coverage), 0, 1)
    thinnest, hole = _thinnest(coverage), largest_hole(coverage).width_px
    return {
        "thinnest_px": thinnest,
        "thinnest_mm": px_to_mm(thinnest, ppi),
        "largest_hole_px": hole,
        "largest_hole_mm": px_to_mm(hole, ppi),
    }


def _thinnest(coverage: np.ndarray) -> float:
    """The width of the thinnest stroke, px."""
    coverage = np.pad(coverage, 3)
    inside = (coverage >= 0.5).astype(np.uint8)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(inside, connectivity=8)
    large = stats[:, cv2.CC_STAT_AREA] >= SPECK_PX
    large[0] = False
    if not large.any():
        return 0.0
    away = np.where(large[labels], _distance(coverage), 0).astype(np.float32)
    radius, most = FIRST_PX, float(away.max()) * GROWTH
    while radius <= most:
        middles = _strokes_under(away, radius)
        if middles.any():
            return _width(coverage, away, middles)
        radius *= GROWTH
    return 2 * float(away.max())


def _strokes_under(away: np.ndarray, radius: float) -> np.ndarray:
    """(H, W) bool: the middle of what a disc of that radius does not fit into, ends and corners
    apart: these are much thinner than the disc.
    """
    core = (away >= radius).astype(np.uint8)
    reach = cv2.distanceTransform(1 - core, cv2.DIST_L2, 5) if core.any() else None
    rest = away > 0 if reach is None else (away > 0) & (reach > radius + LOOSE_PX)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(
        rest.astype(np.uint8), connectivity=8
    )
    widest = np.zeros(count, np.float32)
    np.maximum.at(widest, labels[rest].astype(np.intp), away[rest])
    long = stats[:, [cv2.CC_STAT_WIDTH, cv2.CC_STAT_HEIGHT]].max(1)
    strokes_ = (widest >= LIKE_A_STROKE * radius) & (long >= np.maximum(LEAST_LONG, 2.6 * widest))
    strokes_[0] = False
    return strokes_[labels] & (away >= 0.9 * widest[labels])


def _width(coverage: np.ndarray, away: np.ndarray, middles: np.ndarray) -> float:
    """Of the strokes whose middles are found: what is covered along lines across them."""
    rows, columns = np.nonzero(middles)
    some = np.linspace(0, len(rows) - 1, min(len(rows), LINES)).astype(int)
    rows, columns = rows[some], columns[some]
    far = float(away[rows, columns].max()) + 2.5
    along = np.arange(-far, far + STEP / 2, STEP, dtype=np.float32)
    widths = []
    for turn in np.arange(0, np.pi, np.pi / TURNS):
        x = (columns[:, None] + np.cos(turn) * along).astype(np.float32)
        y = (rows[:, None] + np.sin(turn) * along).astype(np.float32)
        line = cv2.remap(coverage, x, y, cv2.INTER_LINEAR)
        widths.append(_middle_run(line) * STEP)
    return float(np.median(np.min(widths, 0)))


def _middle_run(lines: np.ndarray) -> np.ndarray:
    """What is covered of each line around its middle, up to the first gap to either side."""
    half = lines.shape[1] // 2
    right = np.minimum.accumulate(np.where(lines[:, half:] > GAP, 1, 0), 1)
    left = np.minimum.accumulate(np.where(lines[:, half::-1] > GAP, 1, 0), 1)
    right, left = (lines[:, half:] * right).sum(1), (lines[:, half::-1] * left).sum(1)
    return left + right - lines[:, half]


@dataclass(frozen=True)
class Disc:
    """width_px : its diameter; 0 for none. x, y : its middle, px."""

    width_px: float = 0.0
    x: float = 0.0
    y: float = 0.0


def largest_hole(coverage: np.ndarray) -> Disc:
    """The largest disc that fits into a hole of a shape, which touches no border. coverage : (H, W)
    float32, 0..1.
    """
    clear = (coverage < 0.5).astype(np.uint8)
    count, labels = cv2.connectedComponents(clear, connectivity=4)
    border = np.unique(np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]]))
    hole = np.ones(count, bool)
    hole[border], hole[0] = False, False
    inside = hole[labels]
    return largest_disc(np.where(inside | (clear == 0), 1 - coverage, 0), inside)


def largest_disc(coverage: np.ndarray, inside: np.ndarray) -> Disc:
    """The largest that fits into what is covered, its middle where `inside` is. coverage : (H, W)
    float32, 0..1; inside : (H, W) bool.
    """
    if not inside.any():
        return Disc()
    away = np.where(inside, _distance(coverage), 0)
    y, x = np.unravel_index(np.argmax(away), away.shape)
    widest = 2 * float(away[y, x])
    return Disc(widest, float(x), float(y)) if widest >= LEAST_HOLE_PX else Disc()


def _distance(coverage: np.ndarray) -> np.ndarray:
    """(H, W) px from the middle of each pixel to the edge of a shape, positive inside."""
    from kilncore.pixels.distance import signed_distance  # children that only measure need it not

    return signed_distance(np.ascontiguousarray(coverage), MOST_PX)
