"""A picture read as a mask.

Source: W3C CSS Masking Level 1 (luminance masks) with the BT.709 coefficients on sRGB-encoded
values. White reveals, black conceals (common practice).
"""

import itertools

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.compiled.program import Program, Register
from kilncore.errors import KilnError
from kilncore.geometry.box import Box
from kilncore.pixels.colour import BT709
from kilncore.pixels.planes import checked


def luminance(image: np.ndarray) -> np.ndarray:
    """The mask of a picture: luma times alpha.

    Parameters
    ----------
    image : (H, W, 4) float array
        Straight, 0..1, sRGB-encoded.

    Returns
    -------
    (H, W) float32 array
        0..1.

    Raises
    ------
    KilnError
        For what is no picture.

    References
    ----------
    W3C, CSS Masking Level 1, with the luma of ITU-R BT.709 on encoded values.
    """
    image = checked(image)
    return (image[..., :3] @ BT709) * image[..., 3]


def levels(values: np.ndarray, black: float, gamma: float, white: float):
    """Tones at or below `black` become 0, at or above `white` 1; gamma bends what lies between.

    values : (H, W) float32, 0..1. black, white : 0..1; equal, they make a threshold. gamma : above
    0, 1 is straight. Source: the levels adjustment, common practice: ((v - black) / (white -
    black)) ** (1 / gamma).
    """
    return _levels(
        values, np.float32(black), np.float32(1 / max(white - black, 1e-6)), np.float32(1 / gamma)
    )


@kernel
def _levels(values: np.ndarray, black: float, slope: float, power: float):
    out = np.empty_like(values)
    for y in range(values.shape[0]):
        for x in range(values.shape[1]):
            out[y, x] = min(max(np.float32(0), (values[y, x] - black) * slope), np.float32(1))
        if power != np.float32(1):
            for x in range(values.shape[1]):
                out[y, x] = out[y, x] ** power
    return out


def levelled(row: Register, black: float, gamma: float, white: float):
    """The same of a register of a program."""
    row = row.program.op("levels", row, numbers=(black, 1 / max(white - black, 1e-6)))
    return row if gamma == 1 else row.program.op("power", row, numbers=(1 / gamma,))


def blend_range(
    tones: np.ndarray,
    hidden_below: float,
    shown_from: float,
    shown_to: float,
    hidden_above: float,
) -> np.ndarray:
    """Weights of tones: 0 up to the first point and from the last on, 1 between the middle two,
    straight in between.

    Equal points step, and the tone itself passes. 0 and 1 shut nothing out at that end.

    Parameters
    ----------
    tones : (H, W) float array
        0..1.
    hidden_below, shown_from, shown_to, hidden_above : float
        0..1, in order.

    Returns
    -------
    (H, W) float32 array
        0..1.

    Raises
    ------
    KilnError
        For anything but a plane, or points that cross.

    References
    ----------
    Common practice.
    """
    tones = np.asarray(tones, np.float32)
    points = (hidden_below, shown_from, shown_to, hidden_above)
    if tones.ndim != 2:
        raise KilnError("Tones are a plane.", str(tones.shape))
    if not all(0 <= low <= high <= 1 for low, high in itertools.pairwise(points)):
        raise KilnError(
            "The four points of a blend range must lie in order from 0 to 1.", str(points)
        )
    if not tones.size:
        return tones.copy()
    program = Program(Box(0, 0, tones.shape[1], tones.shape[0]))
    row = program.load(np.nan_to_num(tones)[None], program.box)[0]
    planes = program.planes((program.op("trapezoid", row, numbers=points),))
    program.run()
    return planes[0]
