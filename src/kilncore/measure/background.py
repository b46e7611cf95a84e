"""Whether a picture stands on a plain background, by what runs along its border."""

import numpy as np

from kilncore.pixels.oklab import distance

BORDER = 8  # px
PLAIN = 0.08  # in OKLab with a and b doubled
MOSTLY = 0.85  # of the border


def plain_background(pixels: np.ndarray) -> str | None:
    """'#rrggbb' of the plain background of an opaque picture, or None. pixels : (H, W, 3)
    uint8.
    """
    wide = min(BORDER, *pixels.shape[:2])
    edges = (pixels[:wide], pixels[-wide:], pixels[:, :wide], pixels[:, -wide:])
    border = np.concatenate([edge.reshape(-1, 3) for edge in edges])
    border = border[:: max(1, len(border) // 50_000)]
    middle = np.median(border, 0)
    if (distance(border / 255, middle / 255) <= PLAIN).mean() < MOSTLY:
        return None
    return "#" + "".join(f"{round(value):02x}" for value in middle)
