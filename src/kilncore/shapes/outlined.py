"""The rim of a shape: within its outline, around it, or half and half."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import pathops

from kilncore.geometry.paths import band, cut, united
from kilncore.shapes.forms import FORMS, Measures
from kilncore.typesetting.outline import flattened

INSIDE, MIDDLE, OUTSIDE = "inside", "middle", "outside"
UNITS = 4096.0  # of the path to the longer side: Skia counts in 32 bits


@dataclass(frozen=True, eq=False)
class Rimmed:
    """whole : with its rim. inner : without it. rim : alone. Each (N, 4) float64 edges, closed, in
    the unit of the measures, y downward; no two of one outline cross.
    """

    whole: np.ndarray
    inner: np.ndarray
    rim: np.ndarray


@lru_cache(256)
def rimmed(form: str, measures: Measures, side: str = INSIDE, width: float = 0.0) -> Rimmed:
    """A shape with a rim.

    Parameters
    ----------
    form : str
        Of FORMS.
    measures : Measures
        Above 0 each way.
    side : str
        Where the rim lies: INSIDE, MIDDLE or OUTSIDE.
    width : float
        Of the rim, in the unit of the measures; 0 is none.

    Returns
    -------
    Rimmed
        Corners of the rim are sharp, up to four times its width.
    """
    longer = max(measures.wide, measures.tall)
    path = _scaled(FORMS[form][1](measures), UNITS / longer)
    if width <= 0:
        edges = _edges(united(path), longer)
        return Rimmed(edges, edges, np.empty((0, 4)))
    times = 1 if side == MIDDLE else 2
    rim = band(path, times * width * UNITS / longer)
    whole = united(path) if side == INSIDE else united(path, rim)
    inner = united(path) if side == OUTSIDE else cut(path, rim)
    return Rimmed(*(_edges(one, longer) for one in (whole, inner, cut(whole, inner))))


def _scaled(path: pathops.Path, times: float) -> pathops.Path:
    return path.transform(times, 0, 0, times, 0, 0)


def _edges(path: pathops.Path, longer: float) -> np.ndarray:
    path.convertConicsToQuads()
    return flattened(path, UNITS) * longer
