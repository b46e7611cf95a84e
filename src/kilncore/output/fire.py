"""Firing: the full-size file of a piece, drawn tile by tile into a raw file, packed by libvips,
written whole or not at all.
"""

import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import pyvips

from kilncore.compiled import allocator
from kilncore.document import Piece
from kilncore.engine import pool
from kilncore.engine.render import LARGE_TILE, channels, draw_tiles
from kilncore.errors import KilnError, Superseded
from kilncore.graph.protocols import Assets
from kilncore.model.base import Model
from kilncore.model.units import MM_PER_INCH
from kilncore.output.bands import RawBands
from kilncore.output.contents import CONTENTS
from kilncore.output.formats import FORMATS, Format
from kilncore.pixels import vips  # noqa: F401  it settles how libvips works
from kilncore.system.cache import ByteCache
from kilncore.system.files import scratch_file, written_whole

FIRING_CACHE = 96 * 2**20
DRAWING_SHARE = 0.6  # of the time that a firing takes
NO_ROOM = "The file could not be written. Is the disk full?"


@dataclass(frozen=True)
class Fired:
    """nbytes : the size of the file. seconds : that it took."""

    path: Path
    width: int
    height: int
    nbytes: int
    seconds: float


def fire(
    piece: Piece,
    target: Path,
    assets: Assets | None,
    *,
    with_ground: bool = True,
    file_format: str = "png",
    settings: dict | None = None,
    content: str = "piece",
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Fired:
    """Make the file. The target appears only when it is complete.

    file_format, settings : one of FORMATS, and what is set of it. content : one of CONTENTS.
    progress : called with 0..1, from other threads. cancelled : asked again and again; Superseded
    is raised when it says so. KilnError for what there is not.
    """
    written, drawn = FORMATS.named(file_format), CONTENTS.named(content)
    begun, target = time.monotonic(), Path(target)
    target.parent.mkdir(parents=True, exist_ok=True)
    asked = {"with_ground": with_ground} if "with_ground" in drawn.settings.model_fields else {}
    node = drawn.node(piece, drawn.settings.model_validate(asked))
    try:
        with scratch_file(target.parent) as raw:
            count = _draw(
                piece, node, raw, assets, lambda share: progress(share * DRAWING_SHARE), cancelled
            )
            _pack(
                piece,
                Path(raw.name),
                count,
                target,
                written,
                written.settings.model_validate(settings or {}),
                progress,
                cancelled,
            )
    finally:
        allocator.release_freed()
    return Fired(target, *piece.size_px, target.stat().st_size, time.monotonic() - begun)


def _draw(piece: Piece, node, raw, assets, progress, cancelled) -> int:
    """Draw into the raw file; how many channels there are."""
    count = channels(node, assets)
    bands = RawBands(raw, *piece.size_px, count, progress)
    # a cache of its own: a firing passes each tile once and must not push out what the benches look
    # at
    draw_tiles(
        piece,
        None,
        1.0,
        assets,
        bands,
        node=node,
        cache=ByteCache(FIRING_CACHE),
        seen=None,
        tile=LARGE_TILE,
        cancelled=cancelled,
        patience=pool.FIRING,
    )
    raw.flush()
    return count


def _pack(
    piece: Piece,
    raw: Path,
    count: int,
    target: Path,
    written: Format,
    settings: Model,
    progress,
    cancelled,
) -> None:
    image = pyvips.Image.rawload(str(raw), *piece.size_px, count, access="sequential")
    per_mm = piece.ppi / MM_PER_INCH
    image = image.copy(interpretation="srgb", xres=per_mm, yres=per_mm)
    image.set_progress(True)

    def told(image: pyvips.Image, state) -> None:
        progress(DRAWING_SHARE + (1 - DRAWING_SHARE) * state.percent / 100)
        if cancelled():
            image.set_kill(True)

    image.signal_connect("eval", told)
    with written_whole(target) as file:
        try:
            written.write(image, Path(file.name), settings)
        except pyvips.Error:
            if cancelled():
                raise Superseded from None
            raise KilnError(NO_ROOM) from None
    progress(1.0)  # libvips does not always tell the last per cent
