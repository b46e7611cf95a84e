"""Firing: the full-size file of a piece, drawn tile by tile and written whole or not at all."""

import os
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from kilncore.document import Piece
from kilncore.engine.box import Box, scaled
from kilncore.engine.cache import TileCache
from kilncore.engine.reader import tiles_over
from kilncore.engine.render import draw_tiles
from kilncore.errors import KilnError
from kilncore.output import WRITERS
from kilncore.planes import straight_colour

FIRING_CACHE = 1000 * 2**20


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
    pixels = _pixels(piece, assets, with_ground, progress, cancelled)
    if pixels[..., 3].min() == 255:
        pixels = pixels[..., :3]
    target = Path(target)
    target.parent.mkdir(parents=True, exist_ok=True)
    handle, half = tempfile.mkstemp(dir=target.parent, suffix=f".{format}")
    os.close(handle)
    try:
        WRITERS[format](pixels, Path(half), piece.ppi)
        os.replace(half, target)
    except BaseException:
        Path(half).unlink(missing_ok=True)
        raise
    return Fired(target, *piece.size_px, target.stat().st_size, time.monotonic() - begun)


def _pixels(piece: Piece, assets, with_ground, progress, cancelled) -> np.ndarray:
    """(H, W, 4) uint8, straight."""
    width, height = piece.size_px
    pixels = np.zeros((height, width, 4), np.uint8)
    total, done = len(tiles_over(scaled(0, 0, width, height, 1.0))), []

    def put(box: Box, planes: np.ndarray) -> None:
        pixels[box.top : box.bottom, box.left : box.right] = to_pixels(planes)
        done.append(box)
        progress(len(done) / total)

    # a cache of its own: a firing passes each tile once and must not push out what the benches look at
    draw_tiles(piece, None, 1.0, assets, put, with_ground=with_ground, cache=TileCache(FIRING_CACHE), cancelled=cancelled)
    return pixels


def to_pixels(planes: np.ndarray) -> np.ndarray:
    """Premultiplied (4, H, W) to straight (H, W, 4) uint8, rounded."""
    out = np.empty((*planes.shape[1:], 4), np.uint8)
    out[..., :3] = np.rint(np.moveaxis(straight_colour(planes), 0, 2) * 255)
    out[..., 3] = np.rint(planes[3] * 255)
    return out
