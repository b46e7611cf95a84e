"""Refilling a painted patch from another place of the same texture, with no visible join.

The place is that whose surroundings are most like the patch's own (sums of squared differences in a
ring around it). It is joined along the closed path through the ring on which the two differ least
(`cuts`, after Efros and Freeman 2001), and brought to the brightness around it by a smooth membrane
that continues the ring's difference inwards (after Perez, Gangnet and Blake, Poisson image editing,
2003, by normalised convolution on a small copy).
"""

import numpy as np

from kilncore.pixels.stored import full_of, put
from kilncore.prep.cuts import closed_cut
from kilncore.system.opencv import cv2

RING_PX = 24
SEARCHED_AT = 48  # px of the longer side of a patch on the copy that is searched
SEARCHED_AROUND = 640  # px of that copy to each side
FINER = 4
FEATHER = 1.5
FAR = np.float32(3e38)


def refilled(
    planes: np.ndarray, tones: np.ndarray, mask: np.ndarray, painted: np.ndarray, another: int
) -> bool:
    """Refill a patch of (C, H, W) planes in place; False, and nothing done, where no place is left
    to fill it from.

    tones : (H, W) of them. mask : (H, W) uint8, 1 in the patch. painted : the same of all patches.
    another : which place, 0 the best.
    """
    window = _window(mask)
    target = (slice(window[1], window[3]), slice(window[0], window[2]))
    inside = mask[target]
    ring = _ring(inside)
    shift = _place(tones, painted, window, ring, another)
    if shift is None:
        return False
    source = tuple(
        slice(part.start + by, part.stop + by) for part, by in zip(target, shift, strict=True)
    )
    unit = np.float32(1 / full_of(planes))
    here, there = planes[:, *target] * unit, planes[:, *source] * unit
    difference = here - there
    share = _joined(inside, ring, np.square(difference).sum(0))
    filled = there + np.stack([_membrane(one, ring) for one in difference])
    put(here + share * (filled - here), planes[:, *target])
    return True


def _window(mask: np.ndarray) -> tuple[int, int, int, int]:
    """left, top, right, bottom of the patch with its ring, within the picture."""
    left, top, wide, tall = cv2.boundingRect(mask)
    height, width = mask.shape
    around = RING_PX + 2
    return (
        max(left - around, 0),
        max(top - around, 0),
        min(left + wide + around, width),
        min(top + tall + around, height),
    )


def _ring(inside: np.ndarray) -> np.ndarray:
    """(h, w) uint8: 1 within RING_PX outside the patch."""
    away = cv2.distanceTransform(1 - inside, cv2.DIST_L2, 5)
    return ((away > 0) & (away <= RING_PX)).astype(np.uint8)


def _place(
    tones: np.ndarray, painted: np.ndarray, window: tuple, ring: np.ndarray, another: int
) -> tuple[int, int] | None:
    """(down, across) from the patch to the place that fills it."""
    left, top, right, bottom = window
    scale = min(1.0, SEARCHED_AT / max(right - left, bottom - top))
    around = int(SEARCHED_AROUND / scale)
    height, width = tones.shape
    x, y = max(left - around, 0), max(top - around, 0)
    region = (
        slice(y, min(bottom + around, height)),
        slice(x, min(right + around, width)),
    )
    small, taken = _smaller(tones[region], scale), _smaller(painted[region] * np.uint8(255), scale)
    wide, tall = max(3, round((right - left) * scale)), max(3, round((bottom - top) * scale))
    at = (
        min(round((left - x) * scale), small.shape[1] - wide),
        min(round((top - y) * scale), small.shape[0] - tall),
    )
    if min(at) < 0:
        return None
    weights = cv2.resize(ring.astype(np.float32), (wide, tall), interpolation=cv2.INTER_AREA)
    template = np.ascontiguousarray(small[at[1] : at[1] + tall, at[0] : at[0] + wide])
    scores = cv2.matchTemplate(small, template, cv2.TM_SQDIFF, mask=weights)
    covered = cv2.boxFilter(taken, -1, (wide, tall), normalize=False, anchor=(0, 0))
    scores[covered[: scores.shape[0], : scores.shape[1]] > 0.5] = FAR
    place = _nth(scores, another, max(wide, tall) // 2)
    if place is None:
        return None
    down, across = (round((place[n] - at[1 - n]) / scale) for n in (0, 1))
    return _finer(tones, painted, window, ring, down, across, scale)


def _smaller(plane: np.ndarray, scale: float) -> np.ndarray:
    size = max(1, round(plane.shape[1] * scale)), max(1, round(plane.shape[0] * scale))
    small = plane if scale == 1 else cv2.resize(plane, size, interpolation=cv2.INTER_AREA)
    return small.astype(np.float32) / np.float32(full_of(plane))


def _nth(scores: np.ndarray, number: int, apart: int) -> tuple[int, int] | None:
    """(row, column) of the n-th best of scores, `apart` px from all better ones; the best again
    where there are not so many."""
    scores, best = np.where(np.isfinite(scores), scores, FAR), None
    for _ in range(number + 1):
        row, column = divmod(int(np.argmin(scores)), scores.shape[1])
        if scores[row, column] >= FAR:
            break
        best = row, column
        scores[
            max(row - apart, 0) : row + apart + 1, max(column - apart, 0) : column + apart + 1
        ] = FAR
    return best


def _finer(
    tones: np.ndarray,
    painted: np.ndarray,
    window: tuple,
    ring: np.ndarray,
    down: int,
    across: int,
    scale: float,
) -> tuple[int, int] | None:
    """The best within a few px of the small copy, at full size."""
    left, top, right, bottom = window
    height, width = tones.shape
    near = max(FINER, round(2 / scale)) if scale < 1 else 0
    rows = max(top + down - near, 0), min(bottom + down + near, height)
    columns = max(left + across - near, 0), min(right + across + near, width)
    wide, tall = right - left, bottom - top
    if rows[1] - rows[0] < tall or columns[1] - columns[0] < wide:
        return None
    unit = np.float32(1 / full_of(tones))
    region = tones[slice(*rows), slice(*columns)] * unit
    template = tones[top:bottom, left:right] * unit
    scores = cv2.matchTemplate(region, template, cv2.TM_SQDIFF, mask=ring.astype(np.float32))
    taken = painted[slice(*rows), slice(*columns)].astype(np.float32)
    covered = cv2.boxFilter(taken, -1, (wide, tall), normalize=False, anchor=(0, 0))
    scores[covered[: scores.shape[0], : scores.shape[1]] > 0.5] = FAR
    place = _nth(scores, 0, 0)
    if place is None:
        return None
    return rows[0] + place[0] - top, columns[0] + place[1] - left


def _joined(inside: np.ndarray, ring: np.ndarray, cost: np.ndarray) -> np.ndarray:
    """(h, w) float32: 1 where the filling shows, out to the least visible path in the ring."""
    outlines, _ = cv2.findContours(
        np.pad(inside, 1), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE, offset=(-1, -1)
    )
    shape = inside.copy()
    away = np.arange(1, RING_PX - 2, dtype=np.float32)
    known = np.where(ring > 0, cost, np.float32(4)).astype(np.float32)
    for outline in outlines:
        points = outline[:, 0].astype(np.float32)
        if len(points) < 8:
            continue
        normals = _normals(points)
        places = points[:, None] + normals[:, None] * away[None, :, None]
        costs = cv2.remap(
            known,
            np.ascontiguousarray(places[..., 0]),
            np.ascontiguousarray(places[..., 1]),
            cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_REPLICATE,
        )
        path = closed_cut(costs + np.float32(1e-6) * away)
        cut = np.rint(points + normals * away[path][:, None]).astype(np.int32)
        cv2.fillPoly(shape, [cut.reshape(-1, 1, 2)], 1)
    soft = cv2.GaussianBlur(shape.astype(np.float32), (0, 0), FEATHER)
    return np.maximum(soft, inside)


def _normals(points: np.ndarray) -> np.ndarray:
    """(N, 2) outward unit normals of a closed outline, smoothed."""
    reach = max(2, min(8, len(points) // 8))
    along = np.roll(points, -reach, 0) - np.roll(points, reach, 0)
    normals = np.stack([along[:, 1], -along[:, 0]], 1)
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-6)
    area = np.sum(
        points[:, 0] * np.roll(points[:, 1], -1) - points[:, 1] * np.roll(points[:, 0], -1)
    )
    return normals if area > 0 else -normals


def _membrane(difference: np.ndarray, ring: np.ndarray) -> np.ndarray:
    """(h, w): the difference in the ring, continued smoothly inwards."""
    height, width = ring.shape
    size = max(2, -(-width // 8)), max(2, -(-height // 8))
    weight = ring.astype(np.float32)
    sums = cv2.resize(difference * weight, size, interpolation=cv2.INTER_AREA)
    counts = cv2.resize(weight, size, interpolation=cv2.INTER_AREA)
    filled = np.zeros_like(sums)
    for sigma in (1.5, max(size) / 4, max(size)):  # near by, else from further away
        blurred = cv2.GaussianBlur(counts, (0, 0), sigma, borderType=cv2.BORDER_REFLECT)
        values = cv2.GaussianBlur(sums, (0, 0), sigma, borderType=cv2.BORDER_REFLECT)
        filled = np.where(blurred > 0.05, values / np.maximum(blurred, 1e-6), filled)
        if sigma == 1.5:
            near, trust = filled, np.clip(blurred / 0.3, 0, 1)
    filled = near * trust + filled * (1 - trust)
    filled = cv2.GaussianBlur(filled.astype(np.float32), (0, 0), 1.0, borderType=cv2.BORDER_REFLECT)
    return cv2.resize(filled, (width, height), interpolation=cv2.INTER_CUBIC)
