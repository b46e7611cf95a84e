"""Where a picture goes, tile by tile: into bytes for the screen, or into float32 planes."""

import numpy as np

from kilncore.compiled.program import Program
from kilncore.geometry.box import Box, crop
from kilncore.pixels.picture import Picture


class Bytes:
    """Straight, rounded bytes: (H, W, 3), or (H, W, 4) where the picture may be transparent."""

    def __init__(self, box: Box, channels: int):
        self.box, self.out = box, np.empty((box.height, box.width, channels), np.uint8)

    def write(self, program: Program, picture: Picture | None) -> None:
        """Have the program put its picture where it belongs."""
        left, top = program.box.left - self.box.left, program.box.top - self.box.top
        here = self.out[top : top + program.box.height, left : left + program.box.width]
        if picture is None:
            here[...] = 0
        else:
            program.to_bytes(straight_rows(program, picture, self.out.shape[2]), here)

    def done(self, box: Box) -> None:
        """A program has run."""

    def taken(self, box: Box) -> np.ndarray:
        """A copy of what is in a box of it now."""
        return self._part(box).copy()

    def put(self, box: Box, taken: np.ndarray) -> None:
        """What was taken earlier, there again."""
        self._part(box)[...] = taken

    def _part(self, box: Box) -> np.ndarray:
        left, top = box.left - self.box.left, box.top - self.box.top
        return self.out[top : top + box.height, left : left + box.width]


class Shorts:
    """Straight, rounded values of 16 bits: as `Bytes`, with 0 to 65535."""

    def __init__(self, box: Box, channels: int):
        self.box, self._planes = box, np.empty((channels, box.height, box.width), np.float32)

    def write(self, program: Program, picture: Picture | None) -> None:
        """Have the program put its picture where it belongs."""
        here = crop(self._planes, self.box, program.box)
        if picture is None:
            here[...] = 0
        else:
            program.store(straight_rows(program, picture, len(self._planes)), here)

    @property
    def out(self) -> np.ndarray:
        """(H, W, 3 or 4) uint16."""
        values = np.clip(np.nan_to_num(self._planes), 0, 1) * np.float32(65535)
        return np.ascontiguousarray(np.moveaxis(np.rint(values), 0, 2).astype(np.uint16))


class Planes:
    """(4, H, W) premultiplied float32."""

    def __init__(self, box: Box):
        self.box, self.out = box, np.empty((4, box.height, box.width), np.float32)

    def write(self, program: Program, picture: Picture | None) -> None:
        """Have the program put its picture where it belongs."""
        here = crop(self.out, self.box, program.box)
        if picture is None:
            here[...] = 0
        else:
            program.store(picture.premultiply().planes, here)

    def done(self, box: Box) -> None:
        """A program has run."""


def straight_rows(program: Program, picture: Picture, channels: int):
    """Three registers of straight colour, or four with alpha."""
    picture = picture.unpremultiply()
    if channels == 3:
        return picture.colour
    return picture.planes if picture.alpha is not None else (*picture.colour, program.constant(1))
