"""Outlines united, cut out of one another, or kept where they meet; by Skia, on their edges."""

import numpy as np
import pathops

from kilncore.errors import KilnError
from kilncore.geometry.paths import cut, met, united
from kilncore.typesetting.outline import flattened

UNITED, CUT, MET = "united", "cut", "met"
UNITS = 8192.0  # of a path to the longer side of what is combined
MOST_EDGES = 200_000
INTRICATE = "These marks are too intricate to be combined as outlines."


def combined(outlines: list[np.ndarray], how: str) -> np.ndarray:
    """What becomes of outlines.

    Parameters
    ----------
    outlines : list of (N, 4) float64
        Edges of closed outlines in any order, the lowest first; no two of one outline cross.
    how : str
        UNITED: all of them. CUT: the first without the others. MET: what all of them have.

    Returns
    -------
    (N, 4) float64
        Edges in the same unit, that do not cross.

    Raises
    ------
    KilnError
        If there are too many edges.
    """
    there = [edges for edges in outlines if len(edges)]
    if not there:
        return np.empty((0, 4))
    if sum(map(len, there)) > MOST_EDGES:
        raise KilnError(INTRICATE)
    if how == MET and len(there) < len(outlines):
        return np.empty((0, 4))
    whole = np.concatenate(there).reshape(-1, 2)
    low, long = whole.min(0), max(float(np.ptp(whole, 0).max()), 1e-6)
    paths = [_path((edges - np.tile(low, 2)) * (UNITS / long)) for edges in outlines]
    found = paths[0]
    if how == UNITED:
        found = united(*paths)
    for other in paths[1:] if how != UNITED else ():
        found = cut(found, other) if how == CUT else met(found, other)
    if len(paths) == 1:
        found = united(found)
    # flattened() turns y over, as it is upward in fonts
    edges = flattened(found, 1.0) * np.array([1, -1, 1, -1])
    return edges * (long / UNITS) + np.tile(low, 2)


def _path(edges: np.ndarray) -> pathops.Path:
    """Edges, chained into closed contours by their ends."""
    path = pathops.Path()
    pen = path.getPen()
    for ring in _rings(edges):
        pen.moveTo(ring[0])
        for point in ring[1:]:
            pen.lineTo(point)
        pen.closePath()
    return path


def _rings(edges: np.ndarray) -> list[list[tuple[float, float]]]:
    ends = np.round(edges, 3)
    after: dict[tuple, list[int]] = {}
    for n, start in enumerate(map(tuple, ends[:, :2].tolist())):
        after.setdefault(start, []).append(n)
    points, lasts = edges[:, :2].tolist(), list(map(tuple, ends[:, 2:].tolist()))
    used, rings = bytearray(len(edges)), []
    for first in range(len(edges)):
        ring: list[tuple[float, float]] = []
        at: int | None = first
        while at is not None and not used[at]:
            used[at] = 1
            ring.append((points[at][0], points[at][1]))
            waiting = after.get(lasts[at], [])
            while waiting and used[waiting[-1]]:
                waiting.pop()
            at = waiting[-1] if waiting else None
        if len(ring) > 2:
            rings.append(ring)
    return rings
