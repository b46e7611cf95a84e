"""Holes of a knock-out: what is alike the background and encloses no way to the border, as the
inside of a ring or of an O.

A hole is background too if it is as plain as what lies around the art: its pixels, but for its
edge, are on average as near to the background's own colour as the background's are. A white shirt
that is shaded, or a highlight, is not. Worked in bands of rows, and of a very large picture at
every other pixel: memory stays bounded.
"""

import numpy as np

from kilncore.system.opencv import cv2

LEAST_PX = 12  # of a hole: what is smaller is noise, or too small to be seen through
AS_NEAR, SLACK = 1.6, 2.0  # times as far as the background's pixels are, and of 255 beyond
SAMPLED, LABELLED, ROWS = 200_000, 25_000_000, 256


def plain_holes(paint: np.ndarray, alike: np.ndarray, background: np.ndarray) -> np.ndarray:
    """(H, W) uint8, 1 where a hole is as plain as the background.

    paint : (3, H, W) uint8 or uint16, straight. alike : (H, W) uint8, 1 where a pixel is near the
    background's colours. background : the same, of what is reached from the border.
    """
    inner = alike & (1 - background)
    if not inner.any() or not background.any():
        return np.zeros_like(alike)
    step = int(np.ceil(np.sqrt(inner.size / LABELLED)))
    some = np.ascontiguousarray(inner[::step, ::step])
    count, labels, stats, _ = cv2.connectedComponentsWithStats(some, connectivity=4)
    colour, spread = _settled(paint, background)
    mean = _apart(paint[:, ::step, ::step], colour, some, labels, stats[:, 4])
    plain = (mean <= AS_NEAR * spread + SLACK * _unit(paint)) & (stats[:, 4] >= LEAST_PX)
    plain[0] = False
    holes = plain.astype(np.uint8)[labels]
    if step > 1:
        wide = holes.repeat(step, 0).repeat(step, 1)[: inner.shape[0], : inner.shape[1]]
        holes = cv2.dilate(wide, np.ones((2 * step + 1, 2 * step + 1), np.uint8)) & inner
    return holes


def _apart(
    paint: np.ndarray, colour: np.ndarray, inner: np.ndarray, labels: np.ndarray, sizes: np.ndarray
) -> np.ndarray:
    """How far each hole's pixels are from a colour on average, without those of its edge; of one
    that is all edge, half as far as they are.
    """
    core = cv2.erode(inner, np.ones((3, 3), np.uint8))
    deep, sums, whole = (np.zeros(len(sizes)) for _ in range(3))
    for top in range(0, len(labels), ROWS):
        rows = slice(top, top + ROWS)
        marked, within = labels[rows], core[rows] > 0
        away = _away(paint[:, rows], colour)
        deep += np.bincount(marked[within], minlength=len(sizes))
        sums += np.bincount(marked[within], away[within], len(sizes))
        whole += np.bincount(marked.ravel(), away.ravel(), len(sizes))
    return np.where(deep > 0, sums / np.maximum(deep, 1), whole / np.maximum(sizes, 1) / 2)


def _settled(paint: np.ndarray, background: np.ndarray) -> tuple[np.ndarray, float]:
    """The background's colour, and how far its pixels are from it on average."""
    step = max(1, int(np.sqrt(background.size / SAMPLED)))
    some = paint[:, ::step, ::step][:, background[::step, ::step] > 0]
    if not some.size:
        some = paint[:, background > 0]
    colour = np.median(some, 1)
    return colour, float(np.abs(some - colour[:, None]).max(0).mean())


def _away(paint: np.ndarray, colour: np.ndarray) -> np.ndarray:
    """(H, W) float32: how far a pixel is from a colour, in its farthest channel."""
    away = np.zeros(paint.shape[1:], np.float32)
    for channel, value in zip(paint, colour, strict=True):
        np.maximum(away, np.abs(channel.astype(np.float32) - np.float32(value)), out=away)
    return away


def _unit(paint: np.ndarray) -> float:
    return 1.0 if paint.dtype == np.uint8 else 257.0
