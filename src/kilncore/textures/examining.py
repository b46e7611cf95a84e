"""Examining a picture that comes in: read once, in a limited child, for all that the shelf shows of
it.
"""

from dataclasses import dataclass

import numpy as np
import pyvips

from kilncore.measure.histogram import histogram
from kilncore.pixels.reading import NO_ROOM, planes_of
from kilncore.system.sandbox import Limits, answer, run

LIMITS = Limits(memory=2_500 * 2**20, cpu=60, wall=90)
SAMPLE_PX, QUALITY = 480, 90


@dataclass(frozen=True)
class Examined:
    """histogram : counts of the 256 tones of the picture as a mask. sample : its middle at true
    pixels, as JPEG.
    """

    width: int
    height: int
    histogram: list[int]
    sample: bytes


def examined(data: bytes) -> Examined:
    """What there is to know of a picture file; UnusableFile, with the reason, if it cannot be
    used.
    """
    told, sample = run("kilncore.textures.examining", LIMITS, {}, data, NO_ROOM)
    return Examined(told["width"], told["height"], told["histogram"], sample)


def of_planes(planes: np.ndarray) -> Examined:
    """The same of (C, H, W) planes that are in memory."""
    _, height, width = planes.shape
    return Examined(width, height, histogram(planes), sample(planes))


def sample(planes: np.ndarray) -> bytes:
    """The middle of a texture at its true pixels, as JPEG."""
    _, height, width = planes.shape
    side = min(SAMPLE_PX, width, height)
    left, top = (width - side) // 2, (height - side) // 2
    middle = planes[:3, top : top + side, left : left + side]
    return jpeg(middle if middle.dtype == np.uint8 else (middle >> 8).astype(np.uint8))


def jpeg(planes: np.ndarray) -> bytes:
    """(1 or 3, H, W) uint8 planes as JPEG."""
    pixels = np.ascontiguousarray(np.moveaxis(planes, 0, 2))
    height, width, bands = pixels.shape
    image = pyvips.Image.new_from_memory(pixels.data, width, height, bands, "uchar")
    return image.copy(interpretation="srgb" if bands > 2 else "b-w").jpegsave_buffer(
        Q=QUALITY, subsample_mode="off"
    )


def _examine(request: dict, data: bytes) -> tuple[dict, bytes]:
    found = of_planes(planes_of(data))
    return {
        "width": found.width,
        "height": found.height,
        "histogram": found.histogram,
    }, found.sample


if __name__ == "__main__":
    answer(_examine)
