"""Gradients of a whole picture: the public function (docs/engine.md)."""

import math
from collections.abc import Sequence

import numpy as np

from kilncore.geometry.affine import Affine
from kilncore.pixels.colour import hex_to_rgb
from kilncore.pixels.ramps import CONE, MIRROR, NONE, REPEAT, ROUND, STRAIGHT, painted, ramp_of

KINDS = {"linear": STRAIGHT, "round": ROUND, "conic": CONE}
REPEATS = {"none": NONE, "repeat": REPEAT, "mirror": MIRROR}
MOST_SIDE, MOST_STOPS = 20_000, 64
Point = Sequence[float]


def fill(
    kind: str,
    stops: Sequence[tuple[float, str, float]],
    points: Sequence[Point],
    width: int,
    height: int,
    repeat: str = "none",
) -> np.ndarray:
    """A gradient.

    Parameters
    ----------
    kind : str
        'linear', 'round' or 'conic'.
    stops : sequence of (offset, '#rrggbb', alpha)
        One at least; offsets in any order, of those that are alike the order given counts; alpha
        0..1.
    points : two (x, y)
        In px. linear: where offset 0 lies, and where 1. round: the middle, and a point of the
        circle of offset 1. conic: the middle, and a point on the way of offset 0; it goes on
        clockwise.
    width, height : int
        Of the picture, 1 to 20,000.
    repeat : str
        'none': the first and last colours go on; 'repeat', or 'mirror': there and back.

    Returns
    -------
    (height, width, 4) float32 array
        Straight, 0..1; what is transparent is black.

    Raises
    ------
    ValueError
        For another kind or repeat, stops or points that are none, and two points that are one.

    References
    ----------
    CSS Images Module Level 4: premultiplied mixing, and the geometry of linear-gradient(),
    radial-gradient() of a circle, and conic-gradient(). Each pixel is the colour of its middle;
    fills of a piece are the mean of what a pixel covers (`kilncore.pixels.ramps`).
    """
    if kind not in KINDS or repeat not in REPEATS:
        raise ValueError(f"a gradient is one of {', '.join(KINDS)}; not {kind!r}, {repeat!r}")
    if not (1 <= width <= MOST_SIDE and 1 <= height <= MOST_SIDE):
        raise ValueError(f"{width} x {height} px are no size of a picture")
    ramp, plane = ramp_of(_checked(stops)), plane_of(*points)
    planes = painted(ramp, KINDS[kind], plane, (width, height), REPEATS[repeat], sharp=True)
    alpha = planes[3]
    with np.errstate(divide="ignore", invalid="ignore"):
        colour = np.where(alpha > 0, planes[:3] / alpha, 0)
    return np.ascontiguousarray(np.concatenate([colour, alpha[None]]).transpose(1, 2, 0))


def plane_of(first: Point, second: Point) -> tuple[float, ...]:
    """From px to the plane of a gradient (`pixels.ramps.painted`), in which its first point is (0,
    0) and its second (1, 0); ValueError if they are one.
    """
    (x, y), (x1, y1) = first, second
    dx, dy = x1 - x, y1 - y
    if not math.isfinite(dx + dy) or math.hypot(dx, dy) < 1e-9:
        raise ValueError("the two points of a gradient must lie apart")
    return Affine(dx, dy, -dy, dx, x, y).inverse.matrix


def _checked(stops: Sequence) -> list:
    if not 1 <= len(stops) <= MOST_STOPS:
        raise ValueError(f"a gradient has 1 to {MOST_STOPS} stops, not {len(stops)}")
    found = []
    for offset, colour, alpha in stops:
        if not (math.isfinite(offset) and 0 <= alpha <= 1):
            raise ValueError(f"{offset!r} at alpha {alpha!r} is no stop")
        found.append((float(offset), (*(float(one) for one in hex_to_rgb(colour)), float(alpha))))
    return found
