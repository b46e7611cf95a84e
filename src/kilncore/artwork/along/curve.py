"""A curve that is drawn: through points that are dragged on the piece."""

from collections.abc import Callable
from functools import lru_cache
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from kilncore.artwork.along.base import Along, How, along, how_setting
from kilncore.model.setting import setting
from kilncore.model.units import Length
from kilncore.strokes.curves import curve
from kilncore.typesetting.baselines import Baseline, way_of
from kilncore.typesetting.bending import Bend
from kilncore.typesetting.laid_out import LaidOut

MOST_POINTS, MOST_PLACES = 40, 2000
APART = 1e-3  # ems
Ems = Annotated[float, Field(ge=-500, le=500)]
FIRST = ((-2.0, 0.3), (0.0, -0.3), (2.0, 0.3))


@along("curve", title="Drawn")
class CurveAlong(Along):
    """points : in ems, in order."""

    kind: Literal["curve"] = "curve"
    points: Annotated[tuple[tuple[Ems, Ems], ...], Field(min_length=2, max_length=MOST_POINTS)] = (
        setting(FIRST, "Curve", "Drag its points on the piece.", "curve_on_piece", reload=True)
    )
    how: How = how_setting()

    def bend(self, laid: LaidOut, ems: Callable[[Length], float]) -> Bend:
        """Where words are aligned on it: at its begin, in its middle, at its end."""
        line, (left, top, right, bottom) = _through(self.points, laid.share)
        return Bend(line, 0.0, self.how, (left, top - laid.cap, right, bottom))


@lru_cache(64)
def _through(points: tuple, share: float) -> tuple[Baseline, tuple[float, ...]]:
    """(the curve through points, the box around them)."""
    given = np.array(points, np.float64)
    kept = np.concatenate([[True], np.hypot(*np.diff(given, axis=0).T) > APART])
    given = given[kept] if kept.sum() > 1 else given[:1] + [[0.0, 0.0], [1.0, 0.0]]
    box = *given.min(0).tolist(), *given.max(0).tolist()
    return way_of(curve(given, most=MOST_PLACES), share), box
