"""Where a picture goes, tile by tile: into bytes for the screen, or into float32 planes."""

import numpy as np

from kilncore.box import Box, cut
from kilncore.rows.picture import Picture
from kilncore.rows.tape import Tape


class Bytes:
    """Straight, rounded bytes: (H, W, 3), or (H, W, 4) where the picture may be transparent."""

    def __init__(self, box: Box, channels: int):
        self.box, self.out = box, np.empty((box.height, box.width, channels), np.uint8)

    def write(self, tape: Tape, picture: Picture | None) -> None:
        """Have the tape put its picture where it belongs."""
        left, top = tape.box.left - self.box.left, tape.box.top - self.box.top
        here = self.out[top : top + tape.box.height, left : left + tape.box.width]
        if picture is None:
            here[...] = 0
        else:
            tape.to_bytes(straight_rows(tape, picture, self.out.shape[2]), here)

    def done(self, box: Box) -> None:
        """A tape has run."""


class Planes:
    """(4, H, W) premultiplied float32."""

    def __init__(self, box: Box):
        self.box, self.out = box, np.empty((4, box.height, box.width), np.float32)

    def write(self, tape: Tape, picture: Picture | None) -> None:
        here = cut(self.out, self.box, tape.box)
        if picture is None:
            here[...] = 0
        else:
            tape.store(picture.laid().planes, here)

    def done(self, box: Box) -> None:
        """A tape has run."""


def straight_rows(tape: Tape, picture: Picture, channels: int):
    """Three rows of straight colour, or four with alpha."""
    picture = picture.straight()
    if channels == 3:
        return picture.colour
    return picture.planes if picture.alpha is not None else (*picture.colour, tape.constant(1))
