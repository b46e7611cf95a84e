"""Values on their way to a file: rows of tiles, put into a raw file as they are completed."""

import threading
from collections.abc import Callable
from typing import Any

from kilncore.compiled import allocator
from kilncore.compiled.program import Program
from kilncore.engine.targets import Bytes, Shorts
from kilncore.engine.tiling import LARGE_TILE
from kilncore.geometry.box import Box, tiles_over
from kilncore.pixels.picture import Picture

RELEASED_EVERY = 4  # bands
KINDS = {8: Bytes, 16: Shorts}  # by bits a channel


class RawBands:
    """A target of the engine (see `engine.targets`): (H, W, C) uint8 or uint16 of a box in a file,
    band by band, in any order.

    file : open for writing bytes. bits : 8 or 16. progress : called with 0..1.
    """

    def __init__(
        self, file: Any, box: Box, channels: int, bits: int, progress: Callable[[float], None]
    ):
        self.file, self.box, self.channels, self.kind = file, box, channels, KINDS[bits]
        self.row_bytes = box.width * channels * bits // 8
        self.progress, self.lock = progress, threading.Lock()
        self.total = len(tiles_over(box, LARGE_TILE))
        self.across = len(tiles_over(Box(box.left, 0, box.right, 1), LARGE_TILE))
        self.open, self.missing, self.finished = {}, {}, 0

    def write(self, program: Program, picture: Picture | None) -> None:
        """Have the program put its picture into the band that it belongs to."""
        number = program.box.top // LARGE_TILE[1]
        with self.lock:
            if number not in self.open:
                self.open[number] = self.kind(self._band(number), self.channels)
                self.missing[number] = self.across
        self.open[number].write(program, picture)

    def _band(self, number: int) -> Box:
        top, tall = number * LARGE_TILE[1], LARGE_TILE[1]
        return Box(self.box.left, top, self.box.right, top + tall).intersection(self.box)

    def done(self, box: Box) -> None:
        """A tile has been drawn: its band is written when it was the last one missing."""
        number = box.top // LARGE_TILE[1]
        with self.lock:
            self.finished += 1
            self.progress(self.finished / self.total)
            self.missing[number] -= 1
            if self.missing[number]:
                return
            band = self.open.pop(number)
            self.file.seek((band.box.top - self.box.top) * self.row_bytes)
            self.file.write(band.out.data)
        if number % RELEASED_EVERY == RELEASED_EVERY - 1:
            allocator.release_freed()  # what lies freed between what is held would add up
