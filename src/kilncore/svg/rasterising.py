"""Drawing a sanitised SVG in a child process that is limited in memory and time."""

import threading

import numpy as np

from kilncore.errors import UnusableFile
from kilncore.system.sandbox import Limits, run

LIMITS = Limits(memory=3 * 2**30, cpu=45, wall=60)
TURNS = threading.BoundedSemaphore(2)
TOO_MUCH = (
    "This SVG could not be drawn: it takes too long, or too much memory. Simplify it "
    "and bring it in again."
)


def rasterised(
    svg: bytes,
    size: tuple[float, float],
    matrix: tuple[float, ...],
    width: int,
    height: int,
    unit: float = 1.0,
    shown: dict | None = None,
) -> np.ndarray:
    """(height, width, 4) uint8, straight: the drawing around its middle, placed by the matrix.

    svg : sanitised. size : its own width and height. unit : output px per document px. shown :
    which of its colours and parts (`Vector.changes`). Raises UnusableFile when it takes too
    long or too much memory.
    """
    request = {"size": size, "matrix": matrix, "width": width, "height": height, "unit": unit}
    request |= {"shown": shown} if shown else {}
    _, pixels = run("kilncore.svg.raster_child", LIMITS, request, svg, TOO_MUCH, TURNS)
    if len(pixels) != width * height * 4:
        raise UnusableFile(TOO_MUCH)
    return np.frombuffer(pixels, np.uint8).reshape(height, width, 4)
