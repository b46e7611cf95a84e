"""Where a displacement folds over itself.

A map x -> x + d(x) folds where the determinant of its Jacobian is at or below zero: two places of
the result then show the same place of the picture, in turned order, which looks torn.
"""

import numpy as np

from kilncore.errors import KilnError


def folding(dx: np.ndarray, dy: np.ndarray) -> np.ndarray:
    """Where a mapping folds: out(x, y) = in(x + dx, y + dy). Slopes are central differences,
    one-sided at the borders.

    Parameters
    ----------
    dx, dy : (H, W) float array
        Shifts in px, as `displace` applies them.

    Returns
    -------
    (H, W) bool array
        Where the determinant of its Jacobian is at or below zero.

    Raises
    ------
    KilnError
        For anything but two planes of one size, 2 px or more each way.
    """
    dx, dy = np.asarray(dx, np.float64), np.asarray(dy, np.float64)
    if dx.shape != dy.shape or dx.ndim != 2 or min(dx.shape) < 2:
        raise KilnError(
            "Shifts are two planes of one size, 2 px or more.", f"{dx.shape}, {dy.shape}"
        )
    (xy, xx), (yy, yx) = (np.gradient(np.nan_to_num(one)) for one in (dx, dy))
    return (1 + xx) * (1 + yy) - xy * yx <= 0


def first_folds(gradients: tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]) -> np.ndarray:
    """How many times as strong a displacement may be before it folds, pixel by pixel: the smallest
    t > 0 at which det(I + t G) = 0, infinite where it never does.

    gradients : (dx by x, dx by y, dy by x, dy by y) of the displacement, arrays of one shape.
    """
    xx, xy, yx, yy = (np.asarray(one, np.float64) for one in gradients)
    # 1 + t (xx + yy) + t^2 (xx yy - xy yx)
    linear, square = xx + yy, xx * yy - xy * yx
    inside = linear * linear - 4 * square
    with np.errstate(divide="ignore", invalid="ignore"):
        root = np.sqrt(np.maximum(inside, 0))
        # in the form that does not cancel: 2 / (-b +- root)
        first, second = 2 / (-linear + root), 2 / (-linear - root)
    times = np.full(linear.shape, np.inf)
    for one in (first, second):
        use = (inside >= 0) & np.isfinite(one) & (one > 0)
        times = np.where(use, np.minimum(times, one), times)
    return times
