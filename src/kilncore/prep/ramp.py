"""Ramp: one curve from hidden to shown, by two to five pins over the tones.

Two pins are a black and a white point; a third bends the middle; steps between pins posterise.
Smooth curves are monotone between pins (Fritsch and Carlson, Monotone piecewise cubic
interpolation, SIAM Journal on Numerical Analysis 17, 1980): they never overshoot.
"""

from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.prep.bands import through
from kilncore.prep.base import Copy, Operation, operation

Share = Annotated[float, Field(ge=0, le=1)]
WAYS = (("straight", "Straight"), ("smooth", "Smooth"), ("steps", "Steps"))


class Pin(Model):
    """at : a tone of what comes in. shown : what it becomes, 0 hidden to 1 shown."""

    at: Share
    shown: Share


@operation(
    "ramp", title="Ramp", sentence="From hidden to shown, by pins over its tones.", group="Tones"
)
class Ramp(Operation):
    """pins : two to five, from dark to light. between : straight lines, a smooth curve, or steps,
    each pin's tone up to the next.
    """

    kind: Literal["ramp"] = "ramp"
    reads_tones = True
    pins: Annotated[tuple[Pin, ...], Field(min_length=2, max_length=5)] = setting(
        (Pin(at=0.25, shown=0), Pin(at=0.75, shown=1)), "Ramp", "", "ramp", reload=True
    )
    between: Literal["straight", "smooth", "steps"] = setting(
        "straight", "Between pins", "", "choice", choices=WAYS, reload=True
    )

    @model_validator(mode="after")
    def _in_order(self):
        at = [pin.at for pin in self.pins]
        if sorted(at) != at:
            raise ValueError("pins must stand from dark to light")
        return self

    @property
    def parts_within(self) -> float:
        """From where it begins to rise to where it ends."""
        rises = [b.at - a.at for a, b in pairwise(self.pins) if abs(b.shown - a.shown) > 0.02]
        return 0.0 if self.between == "steps" else sum(rises) if rises else 1.0

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """Every channel through the ramp."""
        at = np.array([pin.at for pin in self.pins])
        shown = np.array([pin.shown for pin in self.pins])
        return through(planes, lambda tones: CURVES[self.between](tones, at, shown))

    def told(self) -> str:
        """Its ends."""
        ends = [f"{round(255 * pin.at)}" for pin in (self.pins[0], self.pins[-1])]
        more = f", {len(self.pins)} pins" if len(self.pins) > 2 else ""
        return f"{ends[0]} to {ends[1]}{more}"

    def clipped(self, counts: np.ndarray) -> tuple[float, float]:
        """The shares that lie beyond the first and the last pin, 0..1."""
        reached, last = np.cumsum(counts) / max(counts.sum(), 1), len(counts) - 1
        first, end = (round(pin.at * last) for pin in (self.pins[0], self.pins[-1]))
        return float(reached[first - 1] if first else 0.0), float(1 - reached[end])

    def notes(self, width: int, height: int, counts: np.ndarray | None) -> tuple[str, ...]:
        """The shares beyond its ends; and if nothing but one tone is left."""
        if counts is None:
            return ()
        low, high = self.clipped(counts)
        sentences: tuple[str, ...] = (
            f"{100 * low:.1f} % below the first pin, {100 * high:.1f} % above the last.",
        )
        if max(low, high) > 0.995:
            side = "below the first" if low > high else "above the last"
            sentences += (f"Nearly all lies {side} pin: move the pins to where the tones are.",)
        return sentences


def straight(tones: np.ndarray, at: np.ndarray, shown: np.ndarray) -> np.ndarray:
    """Straight lines between pins; two pins at one tone are a step."""
    steps = at + np.arange(len(at)) * 1e-9
    return np.interp(tones, steps, shown)


def steps(tones: np.ndarray, at: np.ndarray, shown: np.ndarray) -> np.ndarray:
    """Each pin's tone from it up to the next one."""
    return shown[np.clip(np.searchsorted(at, tones, side="right") - 1, 0, len(at) - 1)]


def smooth(tones: np.ndarray, at: np.ndarray, shown: np.ndarray) -> np.ndarray:
    """A monotone cubic."""
    at = at + np.arange(len(at)) * 1e-6
    wide, slopes = np.diff(at), np.diff(shown) / np.diff(at)
    tangents = np.concatenate([slopes[:1], (slopes[:-1] + slopes[1:]) / 2, slopes[-1:]])
    for n, slope in enumerate(slopes):
        if slope == 0:
            tangents[n : n + 2] = 0
            continue
        a, b = tangents[n] / slope, tangents[n + 1] / slope
        tangents[n], tangents[n + 1] = max(a, 0) * slope, max(b, 0) * slope
        far = np.hypot(a, b)
        if far > 3:
            tangents[n : n + 2] *= 3 / far
    parts = np.clip(np.searchsorted(at, tones, side="right") - 1, 0, len(slopes) - 1)
    t = np.clip((tones - at[parts]) / wide[parts], 0, 1)
    near, far = shown[parts], shown[parts + 1]
    return (
        (2 * t**3 - 3 * t**2 + 1) * near
        + (t**3 - 2 * t**2 + t) * wide[parts] * tangents[parts]
        + (3 * t**2 - 2 * t**3) * far
        + (t**3 - t**2) * wide[parts] * tangents[parts + 1]
    )


CURVES = {"straight": straight, "smooth": smooth, "steps": steps}
