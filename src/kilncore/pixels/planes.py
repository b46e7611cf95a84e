"""Two layouts of a picture and the way between them.

Outside: (H, W, 4) float32, straight alpha. Inside the engine: (4, H, W) float32, premultiplied.
Both are sRGB-encoded, 0..1.
"""

import numpy as np

from kilncore.errors import KilnError

TRANSPARENT_BELOW = 1e-6


def checked(image: np.ndarray, name: str = "image") -> np.ndarray:
    """The picture as float32 with NaN made 0, or a KilnError if it is not (H, W, 4)."""
    image = np.asarray(image, np.float32)
    if image.ndim != 3 or image.shape[2] != 4:
        raise KilnError(
            f"A picture must have height, width and 4 channels; {name} does not.", str(image.shape)
        )
    return np.clip(np.nan_to_num(image), 0, 1)


def to_planes(image: np.ndarray) -> np.ndarray:
    """Straight (H, W, 4) to premultiplied (4, H, W)."""
    planes = np.ascontiguousarray(np.moveaxis(image, 2, 0), np.float32)
    planes[:3] *= planes[3]
    return planes


def from_planes(planes: np.ndarray) -> np.ndarray:
    """Premultiplied (4, H, W) to straight (H, W, 4); colour is 0 where nothing is there."""
    image = np.empty(planes.shape, np.float32)
    image[:3], image[3] = straight_colour(planes), planes[3]
    return np.ascontiguousarray(np.moveaxis(image, 0, 2))


def straight_colour(planes: np.ndarray) -> np.ndarray:
    """(3, H, W) colour of a premultiplied picture, 0 where alpha is next to nothing."""
    alpha = planes[3]
    inverse = np.divide(1, alpha, out=np.zeros_like(alpha), where=alpha > TRANSPARENT_BELOW)
    return np.minimum(planes[:3] * inverse, 1)
