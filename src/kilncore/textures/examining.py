"""Examining a file that comes in as a texture: read once, in a limited child, for all that the
shelf shows of it.
"""

from dataclasses import dataclass

import numpy as np
import pyvips

from kilncore.measure.histogram import histogram
from kilncore.pixels.reading import NO_ROOM, planes_of
from kilncore.pixels.stored import full_of
from kilncore.system.opencv import cv2
from kilncore.system.sandbox import Limits, answer, run
from kilncore.textures.facts import facts_of

LIMITS = Limits(memory=2_900 * 2**20, cpu=90, wall=120)
SAMPLE_PX, SPAN_PX, SHOWN_PX, QUALITY = 480, 960, 480, 90


@dataclass(frozen=True)
class Examined:
    """histogram : counts of the 256 tones of the picture as a mask. sample : its middle at true
    pixels, as JPEG. span : SPAN_PX of its middle, at half size, so that textures can be compared at
    one scale. facts : what was measured (`textures.facts`).
    """

    width: int
    height: int
    histogram: list[int]
    sample: bytes
    span: bytes
    facts: dict


def examined(data: bytes) -> Examined:
    """What there is to know of a picture file, told by a limited child.

    Parameters
    ----------
    data : bytes
        The file.

    Returns
    -------
    Examined
        Its size, planes and facts.

    Raises
    ------
    UnusableFile
        With the reason.
    """
    told, samples = run("kilncore.textures.examining", LIMITS, {}, data, NO_ROOM)
    cut = told.pop("cut")
    return Examined(**told, sample=samples[:cut], span=samples[cut:])


def of_planes(planes: np.ndarray) -> Examined:
    """The same of (C, H, W) planes that are in memory; what is see-through lies on white."""
    planes = _on_white(planes)
    _, height, width = planes.shape
    facts = facts_of(planes).as_dict()
    return Examined(width, height, histogram(planes), sample(planes), span(planes), facts)


def _on_white(planes: np.ndarray) -> np.ndarray:
    return planes if len(planes) < 4 else planes[:3] + (full_of(planes) - planes[3])


def sample(planes: np.ndarray) -> bytes:
    """The middle of a texture at its true pixels, as JPEG."""
    return jpeg(_eight(_middle(planes, SAMPLE_PX)))


def span(planes: np.ndarray) -> bytes:
    """SPAN_PX of its middle, or all it has, at half size, as JPEG."""
    middle = _eight(_middle(planes, SPAN_PX))
    size = [max(1, side * SHOWN_PX // SPAN_PX) for side in middle.shape[:0:-1]]
    return jpeg(np.stack([cv2.resize(one, size, interpolation=cv2.INTER_AREA) for one in middle]))


def _middle(planes: np.ndarray, most: int) -> np.ndarray:
    _, height, width = planes.shape
    wide, tall = min(most, width), min(most, height)
    left, top = (width - wide) // 2, (height - tall) // 2
    return planes[:3, top : top + tall, left : left + wide]


def _eight(planes: np.ndarray) -> np.ndarray:
    return planes if planes.dtype == np.uint8 else (planes >> 8).astype(np.uint8)


def jpeg(planes: np.ndarray) -> bytes:
    """(1 or 3, H, W) uint8 planes as JPEG."""
    pixels = np.ascontiguousarray(np.moveaxis(planes, 0, 2))
    height, width, bands = pixels.shape
    image = pyvips.Image.new_from_memory(pixels.data, width, height, bands, "uchar")
    return image.copy(interpretation="srgb" if bands > 2 else "b-w").jpegsave_buffer(
        Q=QUALITY, subsample_mode="off"
    )


def _examine(request: dict, data: bytes) -> tuple[dict, bytes]:
    texture_read = of_planes(planes_of(data))
    told = {name: getattr(texture_read, name) for name in ("width", "height", "histogram", "facts")}
    return told | {"cut": len(texture_read.sample)}, texture_read.sample + texture_read.span


if __name__ == "__main__":
    answer(_examine)
