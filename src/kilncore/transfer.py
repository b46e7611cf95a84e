"""Tone curves, one for each channel.

Source: W3C Filter Effects Module Level 1, feComponentTransfer: identity, table, discrete, linear
and gamma, on straight (not premultiplied) values.
"""

from collections.abc import Callable
from typing import Any

import numpy as np

from kilncore.errors import KilnError
from kilncore.pixels.planes import checked

CHANNELS = ("red", "green", "blue", "alpha")


def transferred(image: np.ndarray, **functions: Any) -> np.ndarray:
    """A picture through a function for each channel that is named.

    Parameters
    ----------
    image : (H, W, 4) float array
        Straight, 0..1.
    **functions : tuple
        By `red`, `green`, `blue` or `alpha`: ('table', values), ('discrete', values), ('linear',
        slope, intercept) or ('gamma', amplitude, exponent, offset). Results are held in 0..1.

    Returns
    -------
    (H, W, 4) float32 array
        Straight.

    Raises
    ------
    KilnError
        For another channel or function.

    References
    ----------
    W3C, Filter Effects Module Level 1, feComponentTransfer.
    """
    image = checked(image).copy()
    for channel, function in functions.items():
        if channel not in CHANNELS or not function or function[0] not in FUNCTIONS:
            raise KilnError(
                f"A curve must be one of {', '.join(FUNCTIONS)}, for {', '.join(CHANNELS)}.",
                f"{channel}: {function!r}"[:200],
            )
        plane = image[..., CHANNELS.index(channel)]
        plane[:] = np.clip(FUNCTIONS[function[0]](plane, *function[1:]), 0, 1)
    return image


def table(values: np.ndarray, points: np.ndarray) -> np.ndarray:
    """Straight lines between points spread evenly over 0..1."""
    points = np.asarray(points, np.float32)
    return (
        np.interp(values, np.linspace(0, 1, len(points)), points)
        if len(points) > 1
        else np.full_like(values, points[0])
    )


def discrete(values: np.ndarray, points: np.ndarray) -> np.ndarray:
    """Steps: n points, each for its n-th part of 0..1, the last for 1 itself too."""
    points = np.asarray(points, np.float32)
    return points[np.minimum((values * len(points)).astype(int), len(points) - 1)]


def linear(values: np.ndarray, slope: float, intercept: float) -> np.ndarray:
    """slope x + intercept."""
    return values * np.float32(slope) + np.float32(intercept)


def gamma(values: np.ndarray, amplitude: float, exponent: float, offset: float) -> np.ndarray:
    """amplitude x ** exponent + offset."""
    return np.float32(amplitude) * values ** np.float32(exponent) + np.float32(offset)


FUNCTIONS: dict[str, Callable] = {
    "table": table,
    "discrete": discrete,
    "linear": linear,
    "gamma": gamma,
}
