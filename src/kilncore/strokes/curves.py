"""The way of a stroke: a smooth curve through the points that were set, and how wide it is there.

The curve is the centripetal one of E. Catmull and R. Rom (A class of local interpolating splines,
1974; knots as C. Yuksel, S. Schaefer and J. Keyser, Parameterization and applications of
Catmull-Rom curves, 2011: no loops and cusps between two points). The browser draws the same
(bench/drawing/curves.js); a test compares them.
"""

import numpy as np

from kilncore.strokes.stroke import MOST_NODES

FINEST, FEWEST, MOST = 1 / 128, 4, 128  # of a unit; pieces between two points
STEPS = 12  # pieces of a taper
NEVER = 1e-9


def curve(
    points: np.ndarray,
    corners: tuple[int, ...] = (),
    closed: bool = False,
    most: int = MOST * MOST_NODES,
) -> np.ndarray:
    """Places along a smooth curve.

    Parameters
    ----------
    points : (N, 2) float64
        It goes through them; no two in a row alike.
    corners : tuple of int
        Numbers of those at which it turns sharply. Between two of them it is straight.
    closed : bool
        It comes back to the first point.
    most : int
        Places, about; but FEWEST to each piece at least.

    Returns
    -------
    (M, 2) float64
        Near enough to one another that straight pieces between them look round.
    """
    if closed and len(points) > 2:
        points = np.concatenate([points, points[:1]])
    else:
        closed = False
    if len(points) < 3:
        return points
    ways = np.diff(points, axis=0)
    chords = np.sqrt(ways[:, 0] * ways[:, 0] + ways[:, 1] * ways[:, 1])
    knots = np.sqrt(np.maximum(chords, NEVER))
    leaving, coming = _tangents(ways, knots, set(corners), closed)
    found, limit = [points[:1]], max(min(MOST, most // len(chords)), FEWEST)
    for n, chord in enumerate(chords):
        count = int(min(max(np.ceil(chord / FINEST), FEWEST), limit))
        u = (np.arange(1, count + 1) / count)[:, None]
        found.append(_between(points[n], points[n + 1], leaving[n], coming[n], knots[n], u))
    return np.concatenate(found)


def _tangents(
    ways: np.ndarray, knots: np.ndarray, corners: set[int], closed: bool
) -> tuple[np.ndarray, np.ndarray]:
    """((N, 2), (N, 2)): how each piece leaves its first point, and comes to its last."""
    speeds = ways / knots[:, None]
    count = len(ways)
    leaving, coming = np.full_like(ways, np.nan), np.full_like(ways, np.nan)
    for n in range(count):  # the point between piece n and the one after it
        after = (n + 1) % count
        if after in corners or (after == 0 and not closed):
            continue
        near, far = knots[n], knots[after]
        both = (ways[n] + ways[after]) / (near + far)
        coming[n] = leaving[after] = speeds[n] - both + speeds[after]
    for n in range(count):  # beyond an end, or a corner, there is nothing to go on from
        bare, open_ = np.isnan(leaving[n, 0]), np.isnan(coming[n, 0])
        if bare:
            leaving[n] = speeds[n] if open_ else 1.5 * speeds[n] - 0.5 * coming[n]
        if open_:
            coming[n] = speeds[n] if bare else 1.5 * speeds[n] - 0.5 * leaving[n]
    return leaving, coming


def _between(
    a: np.ndarray, b: np.ndarray, out: np.ndarray, into: np.ndarray, knot: float, u: np.ndarray
) -> np.ndarray:
    """Cubic by its ends and how it leaves and reaches them. u : (K, 1), 0..1."""
    square, cube = u * u, u * u * u
    return (
        (2 * cube - 3 * square + 1) * a
        + (cube - 2 * square + u) * (knot * out)
        + (3 * square - 2 * cube) * b
        + (cube - square) * (knot * into)
    )


def reached(points: np.ndarray) -> np.ndarray:
    """(N,) how long the way is up to each of its points."""
    ways = np.diff(points, axis=0)
    return np.concatenate([[0.0], np.cumsum(np.hypot(ways[:, 0], ways[:, 1]))])


def tapered(
    points: np.ndarray, pressures: np.ndarray | None, taper_in: float, taper_out: float
) -> tuple[np.ndarray, np.ndarray | None, np.ndarray]:
    """A way with points enough to be told how wide it is.

    Parameters
    ----------
    points : (N, 2) float64
        The way; two or more.
    pressures : (N,) float64 or None
        Of a pen, at each.
    taper_in, taper_out : float
        Lengths over which it grows and shrinks; both shorter where the way is.

    Returns
    -------
    ((M, 2), (M,) or None, (M,))
        The way, its pressures, and the share of its width that it has at each place, 0..1.
    """
    at = reached(points)
    long = at[-1]
    shorter = min(1.0, long / max(taper_in + taper_out, NEVER))
    first, last = taper_in * shorter, taper_out * shorter
    shares = np.arange(1, STEPS + 1) / STEPS
    places = np.unique(np.concatenate([at, first * shares, long - last * shares]))
    places = places[(places >= 0) & (places <= long)]
    way = np.column_stack([np.interp(places, at, points[:, axis]) for axis in (0, 1)])
    pressed = None if pressures is None else np.interp(places, at, pressures)
    width = _grown(places, first) * _grown(long - places, last)
    return way, pressed, width


def _grown(far: np.ndarray, over: float) -> np.ndarray:
    """From nothing to all over a length, slower towards its end."""
    if over <= 0:
        return np.ones_like(far)
    share = np.clip(far / over, 0, 1)
    return share * (2 - share)
