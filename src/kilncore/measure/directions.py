"""The direction of a texture's lines, as of wood or brushed metal.

Source: the structure tensor (Bigun and Granlund, Optimal orientation detection of linear symmetry,
1987), with derivatives by Scharr's filter.
"""

import math

import numpy as np

from kilncore.measure.grey import checked_grey, shrunk
from kilncore.system.opencv import cv2

PROXY_PX = 1600
SHOWN_FROM = 0.15  # of strength: below, an angle means nothing


def direction(grey: np.ndarray) -> tuple[float, float]:
    """Along which way the lines of a texture run.

    Parameters
    ----------
    grey : (H, W) float array
        0..1.

    Returns
    -------
    (degrees, strength)
        0 to 180, clockwise from across; and how much it is so, 0 none to 1 nothing else.

    References
    ----------
    The structure tensor (Bigun and Granlund 1987).
    """
    small, _ = shrunk(checked_grey(grey), PROXY_PX)
    across = cv2.Scharr(small, cv2.CV_32F, 1, 0, borderType=cv2.BORDER_REFLECT)[1:-1, 1:-1]
    down = cv2.Scharr(small, cv2.CV_32F, 0, 1, borderType=cv2.BORDER_REFLECT)[1:-1, 1:-1]
    xx, yy = (float(np.square(one).mean(dtype=np.float64)) for one in (across, down))
    xy = float((across * down).mean(dtype=np.float64))
    if xx + yy < 1e-12:
        return 0.0, 0.0
    steepest = 0.5 * math.degrees(math.atan2(2 * xy, xx - yy))
    return (steepest + 90) % 180, math.hypot(xx - yy, 2 * xy) / (xx + yy)
