"""Scrapes: strokes along an outline, by a seed, as if its edges had been gone along with a rough
tip."""

from collections.abc import Callable, Iterable

import numpy as np

from kilncore.strokes.stroke import Stroke

MOST = 120  # of one outline
LENGTHS = (4.0, 16.0)  # of a scrape, in radii
GAPS = (0.3, 5.0)  # between two, in radii
STEP = 0.35  # radii, from point to point
WANDERS = 0.55  # radii, that the way is off the edge
SIDES = {"all": None, "top": (0, -1), "right": (1, 0), "bottom": (0, 1), "left": (-1, 0)}
CORNERS = {
    "top-left": (-1, -1),
    "top-right": (1, -1),
    "bottom-right": (1, 1),
    "bottom-left": (-1, 1),
}
CORNER = 0.3  # of the shorter side of all outlines, as far as a corner goes
FACES = 0.64  # how near a side of the outline has to face that way, as a cosine


def scrapes(
    loops: Iterable[np.ndarray], brush: Stroke, seed: int, side: str = "all"
) -> list[Stroke]:
    """Strokes along outlines.

    Parameters
    ----------
    loops : of (N, 2) float
        Closed, in the item's own frame.
    brush : Stroke
        What they are drawn with; its points do not count.
    seed : int
        The same gives the same.
    side : str
        Of SIDES: only where the outline faces that way. Of CORNERS: only near that corner of all
        of them.

    Returns
    -------
    list of Stroke
        At most MOST; the longest outlines first.
    """
    random, found = np.random.default_rng(seed), []
    told = brush.model_dump(exclude={"points", "pressures", "seed", "id"})
    ways = [_evenly(loop, brush.radius * STEP) for loop in loops if len(loop) > 2]
    near = _near_corner(ways, CORNERS[side]) if ways and side in CORNERS else None
    for way in sorted(ways, key=len, reverse=True):
        for part in _parts(way, random):
            if len(found) >= MOST:
                return found
            part = part[near(part)] if near else part
            if len(part) < 2 or not _faces(part, way, SIDES.get(side)):
                continue
            off = np.cumsum(random.standard_normal(len(part))) / max(len(part), 1) ** 0.5
            points = part + _across(part) * (off * WANDERS * brush.radius)[:, None]
            seeded = int(random.integers(0, 2**31 - 1))
            found.append(
                Stroke(points=tuple(map(tuple, points.tolist())), seed=seeded, id=seeded, **told)
            )
    return found


def _evenly(loop: np.ndarray, step: float) -> np.ndarray:
    """(N, 2) places along a closed way, `step` apart or a little more."""
    closed = np.concatenate([loop, loop[:1]])
    reached = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))])
    count = int(np.clip(reached[-1] / max(step, 1e-6), 3, 20_000))
    at = np.linspace(0, reached[-1], count, endpoint=False)
    return np.column_stack([np.interp(at, reached, closed[:, axis]) for axis in (0, 1)])


def _parts(way: np.ndarray, random: np.random.Generator) -> Iterable[np.ndarray]:
    """Pieces of a way, with gaps between them."""
    at, count = int(random.integers(0, len(way))), len(way)
    end = at + count
    while at < end:
        long = max(int(random.uniform(*LENGTHS) / STEP), 2)
        yield way[np.arange(at, min(at + long, end)) % count]
        at += long + max(int(random.uniform(*GAPS) / STEP), 1)


def _across(part: np.ndarray) -> np.ndarray:
    """(N, 2) unit vectors across a way."""
    if len(part) < 2:
        return np.zeros_like(part)
    along = np.gradient(part, axis=0)
    long = np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-9)
    return np.column_stack([-along[:, 1], along[:, 0]]) / long[:, None]


def _near_corner(
    ways: list[np.ndarray], corner: tuple[int, int]
) -> Callable[[np.ndarray], np.ndarray]:
    """Which places lie near a corner of the box around all ways: (N, 2) to (N,) bool."""
    low, high = (np.array([find(way, 0) for way in ways]) for find in (np.min, np.max))
    low, high = low.min(0), high.max(0)
    at = np.where(np.array(corner) < 0, low, high)
    far = CORNER * (high - low).min()
    return lambda part: (np.abs(part - at) <= far).all(1)


def _faces(part: np.ndarray, way: np.ndarray, towards: tuple[float, float] | None) -> bool:
    """Whether a piece of an outline lies on that side of it: it runs across the direction, beyond
    the outline's middle.
    """
    if towards is None or len(part) < 2:
        return True
    across, middle = np.abs(_across(part).mean(0) @ towards), way.mean(0)
    return bool(across >= FACES and (part.mean(0) - middle) @ np.asarray(towards) > 0)
