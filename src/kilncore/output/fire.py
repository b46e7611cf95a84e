"""Firing: the full-size file of a piece, drawn tile by tile, packed band by band, written whole or not at all."""

import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from kilncore import memory
from kilncore.assets import written_whole
from kilncore.box import Box, scaled, tiles_over
from kilncore.document import Piece
from kilncore.engine import pool
from kilncore.engine.cache import TileCache
from kilncore.engine.plan import Plan
from kilncore.engine.render import LARGE_TILE, channels, draw_tiles
from kilncore.engine.targets import Bytes
from kilncore.errors import KilnError
from kilncore.output import WRITERS
from kilncore.rows.picture import Picture
from kilncore.rows.tape import Tape

FIRING_CACHE = 96 * 2**20
GIVES_BACK_EVERY = 4  # bands


@dataclass(frozen=True)
class Fired:
    path: Path
    width: int
    height: int
    bytes: int
    seconds: float


def fire(piece: Piece, target: Path, assets, *, with_ground: bool = True, format: str = "png",
         progress: Callable[[float], None] = lambda share: None, cancelled: Callable[[], bool] = lambda: False) -> Fired:
    """Make the file. progress : called with 0..1, from the pool's threads. The target appears only when it is complete."""
    if format not in WRITERS:
        raise KilnError(f"A format must be one of: {', '.join(WRITERS)}.", format)
    begun = time.monotonic()
    target = Path(target)
    try:
        with written_whole(target) as file:
            _written(piece, file, WRITERS[format], assets, with_ground, progress, cancelled)
    finally:
        memory.give_back()
    return Fired(target, *piece.size_px, target.stat().st_size, time.monotonic() - begun)


def _written(piece, file, writer_class, assets, with_ground, progress, cancelled) -> None:
    count = channels(Plan(piece).finished(with_ground), assets)
    writer = writer_class(file, *piece.size_px, count, piece.ppi)
    bands = _Bands(writer, *piece.size_px, count, progress)
    # a cache of its own: a firing passes each tile once and must not push out what the benches look at
    draw_tiles(piece, None, 1.0, assets, bands, with_ground=with_ground, cache=TileCache(FIRING_CACHE), seen=None,
               tile=LARGE_TILE, cancelled=cancelled, patience=pool.FIRING)
    writer.close()


class _Bands:
    """Rows of tiles, packed by the thread that completes them and added to the file in order."""

    def __init__(self, writer, width: int, height: int, channels: int, progress):
        self.writer, self.width, self.height, self.channels = writer, width, height, channels
        self.progress, self.lock = progress, threading.Lock()
        page = scaled(0, 0, width, height, 1.0)
        self.total, self.across = len(tiles_over(page, LARGE_TILE)), len(tiles_over(Box(0, 0, width, 1), LARGE_TILE))
        self.open, self.missing, self.ready, self.next, self.finished = {}, {}, {}, 0, 0

    def write(self, tape: Tape, picture: Picture | None) -> None:
        number = tape.box.top // LARGE_TILE[1]
        with self.lock:
            if number not in self.open:
                rows = min(LARGE_TILE[1], self.height - number * LARGE_TILE[1])
                self.open[number] = Bytes(Box(0, number * LARGE_TILE[1], self.width, number * LARGE_TILE[1] + rows), self.channels)
                self.missing[number] = self.across
        self.open[number].write(tape, picture)

    def done(self, box: Box) -> None:
        number = box.top // LARGE_TILE[1]
        if self._completed(number):
            self._add(number, self.writer.packed(self.open.pop(number).out))

    def _completed(self, number: int) -> bool:
        with self.lock:
            self.finished += 1
            self.progress(self.finished / self.total)
            self.missing[number] -= 1
            return self.missing[number] == 0

    def _add(self, number: int, band) -> None:
        with self.lock:
            self.ready[number] = band
            while self.next in self.ready:
                self.writer.add(self.ready.pop(self.next))
                self.next += 1
        if number % GIVES_BACK_EVERY == GIVES_BACK_EVERY - 1:
            memory.give_back()  # what lies freed between what is held would add up
