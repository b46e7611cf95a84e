"""Bytes on their way to a file: rows of tiles, put into a raw file as they are completed."""

import threading
from collections.abc import Callable

from kilncore.compiled import allocator
from kilncore.compiled.program import Program
from kilncore.engine.render import LARGE_TILE
from kilncore.engine.targets import Bytes
from kilncore.geometry.box import Box, scaled, tiles_over
from kilncore.pixels.picture import Picture

RELEASED_EVERY = 4  # bands


class RawBands:
    """A target of the engine (see `engine.targets`): (H, W, C) uint8 in a file, band by band, in
    any order.

    file : open for writing bytes. progress : called with 0..1.
    """

    def __init__(
        self, file, width: int, height: int, channels: int, progress: Callable[[float], None]
    ):
        self.file, self.width, self.height, self.channels = file, width, height, channels
        self.progress, self.lock = progress, threading.Lock()
        page = scaled(0, 0, width, height, 1.0)
        self.total, self.across = (
            len(tiles_over(page, LARGE_TILE)),
            len(tiles_over(Box(0, 0, width, 1), LARGE_TILE)),
        )
        self.open, self.missing, self.finished = {}, {}, 0

    def write(self, program: Program, picture: Picture | None) -> None:
        """Have the program put its picture into the band that it belongs to."""
        number = program.box.top // LARGE_TILE[1]
        with self.lock:
            if number not in self.open:
                top = number * LARGE_TILE[1]
                self.open[number] = Bytes(
                    Box(0, top, self.width, min(top + LARGE_TILE[1], self.height)), self.channels
                )
                self.missing[number] = self.across
        self.open[number].write(program, picture)

    def done(self, box: Box) -> None:
        """A tile has been drawn: its band is written when it was the last one missing."""
        number = box.top // LARGE_TILE[1]
        with self.lock:
            self.finished += 1
            self.progress(self.finished / self.total)
            self.missing[number] -= 1
            if self.missing[number]:
                return
            self.file.seek(number * LARGE_TILE[1] * self.width * self.channels)
            self.file.write(self.open.pop(number).out.data)
        if number % RELEASED_EVERY == RELEASED_EVERY - 1:
            allocator.release_freed()  # what lies freed between what is held would add up
