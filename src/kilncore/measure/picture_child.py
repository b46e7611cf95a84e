"""The child process that takes a picture in: it decodes all of it, and tells what its sheet shows.

What it reads to its end can be read again: the same bytes go through the same code.
"""

from typing import Any

import numpy as np

from kilncore.measure.background import holes_of, perhaps_background, plain_background
from kilncore.measure.flat_colours import flat_colours_of
from kilncore.pixels.reading import planes_of
from kilncore.pixels.stored import straight
from kilncore.system.sandbox import answer

LOOKED_AT = 300_000  # px, about, of which the colours are told


def _take_in(request: dict, data: bytes) -> tuple[dict, bytes]:
    planes = planes_of(data)
    _, height, width = planes.shape
    step = max(1, int(np.sqrt(width * height / LOOKED_AT)))
    opaque = len(planes) < 4
    whole: Any = _bytes(_bordered(planes)) if opaque else None
    plain = plain_background(whole) if opaque else None
    holes = holes_of(whole[::step, ::step], plain) if plain else 0
    perhaps = perhaps_background(whole) if opaque and not plain else None
    colours, alpha = straight(planes[:, ::step, ::step])
    alpha = np.full(colours.shape[1:], 255, np.uint8) if alpha is None else _eight(alpha)
    shares = flat_colours_of(_bytes(colours), alpha)
    return {
        "width": width,
        "height": height,
        "opaque": opaque,
        "plain": plain,
        "perhaps": perhaps,
        "holes": holes,
        "colours": [[colour, round(share, 4)] for colour, share in shares],
    }, b""


def _bordered(planes: np.ndarray) -> np.ndarray:
    """(3, H, W) of opaque planes."""
    return np.broadcast_to(planes[:3], (3, *planes.shape[1:]))


def _bytes(planes: np.ndarray) -> np.ndarray:
    return np.moveaxis(_eight(planes), 0, 2)


def _eight(planes: np.ndarray) -> np.ndarray:
    return planes if planes.dtype == np.uint8 else (planes >> 8).astype(np.uint8)


if __name__ == "__main__":
    answer(_take_in)
