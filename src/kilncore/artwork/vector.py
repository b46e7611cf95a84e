"""Vector art: an SVG, made safe once when it comes in, drawn as placed in a limited child process.

Drawn in fixed blocks of the output grid, because one crop of a drawing equals that crop of the whole only when the
same grid is asked for every time, and because memory stays bounded at any size.
"""

import json
import struct
import subprocess
import sys
from typing import Literal

import numpy as np
from pydantic import Field

from kilncore.errors import UnusableFile
from kilncore.model import Hash, Model

BLOCK = 2048
WALL_SECONDS = 30


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


def rasterised(svg: bytes, size: tuple[float, float], matrix: tuple[float, ...], width: int, height: int) -> np.ndarray:
    """(height, width, 4) uint8, straight: the drawing around its middle, placed by the matrix.

    svg : sanitised. size : its own width and height. Raises UnusableFile when it takes too long or too much memory.
    """
    request = json.dumps({"size": size, "matrix": matrix, "width": width, "height": height}).encode()
    message = struct.pack("<I", len(request)) + request + svg
    command = [sys.executable, "-m", "kilncore.artwork.raster_child"]
    try:
        done = subprocess.run(command, input=message, capture_output=True, timeout=WALL_SECONDS, check=False)
    except subprocess.TimeoutExpired as error:
        raise UnusableFile("This SVG takes too long to draw. Simplify it and bring it in again.") from error
    if done.returncode or len(done.stdout) != width * height * 4:
        raise UnusableFile("This SVG could not be drawn: it is damaged, or asks for too much memory.",
                           done.stderr.decode(errors="replace")[-300:])
    return np.frombuffer(done.stdout, np.uint8).reshape(height, width, 4)
