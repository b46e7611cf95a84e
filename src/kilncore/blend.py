"""Source-over with blending, for whole pictures.

Source: W3C Compositing and Blending Level 1, section 5.8 (simple alpha compositing).
"""

import numpy as np

from kilncore.blending import compositing
from kilncore.blending.modes import BLEND_MODES
from kilncore.errors import KilnError
from kilncore.pixels.picture import drawn
from kilncore.pixels.planes import checked, from_planes, to_planes

__all__ = ["BLEND_MODES", "composite"]


def composite(
    backdrop: np.ndarray, source: np.ndarray, mode: str = "normal", opacity: float = 1.0
) -> np.ndarray:
    """Lay a picture over another with a blend mode: source-over with blending.

    Parameters
    ----------
    backdrop, source : (H, W, 4) float array
        Straight alpha, 0..1, sRGB-encoded, of one size.
    mode : str
        A blend mode by its CSS name, or another of `blending.modes.BLEND_MODES`.
    opacity : float
        0..1; multiplies the source's alpha.

    Returns
    -------
    (H, W, 4) float32 array
        Straight.

    Raises
    ------
    KilnError
        For an unknown mode, or shapes that differ.

    References
    ----------
    W3C, Compositing and Blending Level 1.
    """
    backdrop, source = checked(backdrop, "backdrop"), checked(source, "source")
    if backdrop.shape != source.shape:
        raise KilnError(
            "Backdrop and source must be of one size.", f"{backdrop.shape}, {source.shape}"
        )
    return from_planes(
        drawn(
            lambda below, above: compositing.paint(below, above, mode, opacity),
            to_planes(backdrop),
            to_planes(source),
        )
    )
