"""A stroke that is moved, or bent: what lies near the place that is held goes along with it."""

import numpy as np

from kilncore.strokes.curves import reached
from kilncore.strokes.stroke import Stroke


def moved(stroke: Stroke, by: tuple[float, float]) -> Stroke:
    """The stroke elsewhere. ValueError where that is too far."""
    return _through(stroke, np.array(stroke.points) + by)


def bent(stroke: Stroke, place: float, spread: float, by: tuple[float, float]) -> Stroke:
    """The stroke, pulled at one place.

    Parameters
    ----------
    stroke : Stroke
        Drawn freely, or a curve.
    place : float
        Where along it, as a share of its length, 0..1.
    spread : float
        How far along it the pull reaches, to either side, as a share of its length, above 0.
    by : (x, y)
        How far the place is pulled, in the frame's units; less and less to both sides of it, as a
        raised cosine.

    Returns
    -------
    Stroke
        With as many points.

    Raises
    ------
    ValueError
        If it comes to lie too far away.
    """
    points = np.array(stroke.points)
    at = reached(points)
    along = at / at[-1] if at[-1] else np.full(len(points), place)
    near = np.clip(np.abs(along - place) / spread, 0, 1)
    pull = (1 + np.cos(np.pi * near)) / 2
    return _through(stroke, points + pull[:, None] * np.asarray(by))


def _through(stroke: Stroke, points: np.ndarray) -> Stroke:
    told = stroke.model_dump(exclude={"points"})
    return Stroke(points=tuple(map(tuple, points.tolist())), **told)
