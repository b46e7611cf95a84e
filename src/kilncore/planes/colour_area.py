"""Where a picture has a colour: 1 within the tolerance, fading over the softness; antialiased edges
are shared.

An edge pixel between two colours has neither. It is taken apart into the neighbours that are
nearest to the colour and farthest from it: as much of it as is the first counts as the first does,
the rest as the second. So what is inside and what
is outside add up to 1, and an area and its counterpart meet without a rim.
"""

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from kilncore.compiled.kernels import kernel, subroutine
from kilncore.geometry.box import Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.plane import ArrayPlane
from kilncore.graph.protocols import NodeReader
from kilncore.pixels.colour import hex_to_rgb

AROUND = 1  # px
FAINT = np.float32(1e-3)  # of alpha: less has no colour to speak of
ZERO, ONE, TINY = np.float32(0), np.float32(1), np.float32(1e-6)


@dataclass(frozen=True)
class ColourArea(ArrayPlane):
    """of : a picture. colour : '#rrggbb'. tolerance, softness : of the mean distance of three
    channels, 0..1.
    """

    of: Node
    colour: str
    tolerance: float
    softness: float
    key: str = field(init=False)

    def __post_init__(self):
        object.__setattr__(
            self,
            "key",
            key_of("colour area", self.of.key, self.colour, self.tolerance, self.softness),
        )

    @property
    def extent(self) -> Box:
        """That of the picture."""
        return self.of.extent

    @property
    def sources(self):
        """The picture, with the neighbours of each pixel."""
        return ((self.of, AROUND),)

    def compute(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(H, W) float32, 0..1."""
        planes = reader.read(self.of, box.expanded(AROUND))
        limits = np.float32(self.tolerance), np.float32(1 / max(self.softness, 1e-6))
        return _area(np.ascontiguousarray(planes), hex_to_rgb(self.colour), *limits)


@subroutine
def _inside(away: Any, tolerance: Any, slope: Any) -> Any:
    return ONE - min(max(ZERO, (away - tolerance) * slope), ONE)


@subroutine
def _distance(straight: np.ndarray, y: int, x: int, colour: np.ndarray):
    return (
        abs(straight[0, y, x] - colour[0])
        + abs(straight[1, y, x] - colour[1])
        + abs(straight[2, y, x] - colour[2])
    ) / np.float32(3)


@kernel
def _area(planes: np.ndarray, colour: float, tolerance: float, slope: float):
    """planes : (4, H + 2, W + 2) premultiplied."""
    _, height, width = planes.shape
    straight, away = np.empty((3, height, width), np.float32), np.empty((height, width), np.float32)
    for y in range(height):
        for x in range(width):
            alpha = planes[3, y, x]
            inverse = ONE / alpha if alpha > FAINT else ZERO
            for c in range(3):
                straight[c, y, x] = planes[c, y, x] * inverse
            away[y, x] = _distance(straight, y, x, colour) if alpha > FAINT else -ONE
    out = np.zeros((height - 2, width - 2), np.float32)
    for y in range(1, height - 1):
        for x in range(1, width - 1):
            if away[y, x] < ZERO:
                continue
            ny = fy = y
            nx = fx = x
            for j in range(y - 1, y + 2):
                for i in range(x - 1, x + 2):
                    if away[j, i] < ZERO:
                        continue
                    if away[j, i] < away[ny, nx]:
                        ny, nx = j, i
                    if away[j, i] > away[fy, fx]:
                        fy, fx = j, i
            along = square = ZERO
            for c in range(3):
                step = straight[c, ny, nx] - straight[c, fy, fx]
                along += (straight[c, y, x] - straight[c, fy, fx]) * step
                square += step * step
            share = min(max(ZERO, along / max(square, TINY)), ONE) if square > TINY else ONE
            near, far = (
                _inside(away[ny, nx], tolerance, slope),
                _inside(away[fy, fx], tolerance, slope),
            )
            out[y - 1, x - 1] = share * near + (ONE - share) * far
    return out
