"""Vector art: an SVG, made safe once when it comes in, drawn as placed in a limited child process.

Drawn in fixed blocks of the drawing's own grid, because one crop of a drawing equals that crop of the whole only when the
same grid is asked for every time, because memory stays bounded at any size, and because a drawing that is only moved is then
the same drawing.
"""

import threading
from typing import Literal

import numpy as np
from pydantic import Field

from kilncore.errors import UnusableFile
from kilncore.limited import Limits, run
from kilncore.model import Hash, Model

BLOCK = 2048
LIMITS = Limits(memory=3 * 2**30, cpu=45, wall=60)
TURNS = threading.BoundedSemaphore(2)
TOO_MUCH = "This SVG could not be drawn: it takes too long, or too much memory. Simplify it and bring it in again."


class Vector(Model):
    """hash : of the sanitised SVG. width, height : its own size in px, as it is placed at 100 %."""

    kind: Literal["vector"] = "vector"
    hash: Hash
    width: float = Field(gt=0, le=1e5)
    height: float = Field(gt=0, le=1e5)

    def box_px(self, ppi: float, piece_height: float) -> tuple[float, float]:
        return self.width, self.height

    def missing(self) -> str:
        return ""


def rasterised(svg: bytes, size: tuple[float, float], matrix: tuple[float, ...], width: int, height: int, unit: float = 1.0) -> np.ndarray:
    """(height, width, 4) uint8, straight: the drawing around its middle, placed by the matrix.

    svg : sanitised. size : its own width and height. unit : output px per document px. Raises UnusableFile when it takes too
    long or too much memory.
    """
    request = {"size": size, "matrix": matrix, "width": width, "height": height, "unit": unit}
    _, pixels = run("kilncore.artwork.raster_child", LIMITS, request, svg, TOO_MUCH, TURNS)
    if len(pixels) != width * height * 4:
        raise UnusableFile(TOO_MUCH)
    return np.frombuffer(pixels, np.uint8).reshape(height, width, 4)
