"""What is left of the strokes of a shape after wear: how much of their width still stands where
they suffered most.
"""

from dataclasses import dataclass

import numpy as np

from kilncore.measure.stroke_middles import depth, middles
from kilncore.system.opencv import cv2

POINTS, TURNS, STEP = 1200, 16, 0.5
FARTHEST_PX = 300.0
LEAST_HALF_PX = 0.8
GAP = 0.05
LIKE = 0.75  # of the depth nearby: less is a corner or a tip


@dataclass(frozen=True)
class Left:
    """width_px : that stands, across the stroke that has least, of `was_px`. x, y : px, where."""

    width_px: float
    was_px: float
    x: float
    y: float


def strokes_left(before: np.ndarray, left: np.ndarray) -> Left | None:
    """The thinnest stroke that a wear has left.

    Across the middle of each stroke what is left is added up, so that a speck within it makes it
    thinner by its own width and no more.

    Parameters
    ----------
    before, left : (H, W) float32 array
        Coverage, 0..1.

    Returns
    -------
    Left or None
        None where there are no strokes.
    """
    inside = before >= 0.5
    if not inside.any():
        return None
    deep = depth(inside)
    rows, columns = np.nonzero(middles(deep, inside) & (deep >= LEAST_HALF_PX) & ~ends(deep))
    if not len(rows):
        return None
    some = np.unique(np.linspace(0, len(rows) - 1, POINTS).astype(int))
    rows, columns = rows[some], columns[some]
    far = min(float(deep[rows, columns].max()) * 1.2 + 2, FARTHEST_PX)
    was, now = across(before, left, rows, columns, far)
    at = int(np.argmin(now))
    return Left(float(now[at]), float(was[at]), float(columns[at]), float(rows[at]))


def ends(deep: np.ndarray) -> np.ndarray:
    """(H, W) bool: corners and tips, close to which the shape is much deeper."""
    tips, radius = np.zeros(deep.shape, bool), 4
    while True:
        kernel = np.ones((2 * radius + 1, 2 * radius + 1), np.uint8)
        mine = deep * 2.5 + 3 <= radius
        mine &= deep * 2.5 + 3 > radius / 2 if radius > 4 else mine
        tips |= mine & (deep < LIKE * cv2.dilate(deep, kernel))
        if radius > 2.5 * deep.max() + 3 or radius > FARTHEST_PX:
            return tips
        radius *= 2


def across(
    before: np.ndarray, left: np.ndarray, rows: np.ndarray, columns: np.ndarray, far: float
) -> tuple[np.ndarray, np.ndarray]:
    """(px of the shape, px left of it) along the shortest line through each point.

    before, left : (H, W) float32, 0..1. rows, columns : of the points. far : px looked at to either
    side.
    """
    along = np.arange(-far, far + STEP / 2, STEP, dtype=np.float32)
    was, now = np.full(len(rows), np.inf), np.zeros(len(rows))
    for turn in np.arange(0, np.pi, np.pi / TURNS):
        x = (columns[:, None] + np.cos(turn) * along).astype(np.float32)
        y = (rows[:, None] + np.sin(turn) * along).astype(np.float32)
        run = _run(cv2.remap(before, x, y, cv2.INTER_LINEAR))
        length = run.sum(1) * STEP
        shorter = length < was
        kept = cv2.remap(left, x, y, cv2.INTER_LINEAR) * (run > 0)
        was = np.where(shorter, length, was)
        now = np.where(shorter, kept.sum(1) * STEP, now)
    return was, now


def _run(lines: np.ndarray) -> np.ndarray:
    """What is covered of each line around its middle, up to the first gap to either side."""
    half = lines.shape[1] // 2
    right = np.minimum.accumulate(np.where(lines[:, half:] > GAP, 1, 0), 1)
    before = np.minimum.accumulate(np.where(lines[:, half::-1] > GAP, 1, 0), 1)[:, ::-1]
    return lines * np.concatenate([before, right[:, 1:]], 1)
