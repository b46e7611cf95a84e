"""Firing: the full-size file of a piece, drawn tile by tile into a raw file, packed by libvips,
written whole or not at all.
"""

import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from zipfile import ZIP_STORED, ZipFile

import pyvips

from kilncore.compiled import allocator
from kilncore.document import Piece
from kilncore.engine import pool
from kilncore.engine.render import channels
from kilncore.engine.tiling import LARGE_TILE, draw_box
from kilncore.errors import KilnError, Superseded
from kilncore.graph.protocols import Assets
from kilncore.model.base import Model
from kilncore.model.units import MM_PER_INCH
from kilncore.output.bands import RawBands
from kilncore.output.contents import CONTENTS, Picture
from kilncore.output.formats import FORMATS, Format
from kilncore.pixels import vips  # noqa: F401  it settles how libvips works
from kilncore.system.cache import ByteCache
from kilncore.system.files import scratch_file, written_whole

FIRING_CACHE = 96 * 2**20
DRAWING_SHARE = 0.6  # of the time that a firing takes
VALUES, SPACES = {8: "uchar", 16: "ushort"}, {8: "srgb", 16: "rgb16"}  # by bits a channel
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
    """Make the file, or a zip of several. The target appears only when it is complete.

    Parameters
    ----------
    piece : Piece
        What is fired.
    target : Path
        Where it appears.
    assets : Assets or None
        Where files are.
    with_ground : bool
        As of `engine.render`.
    file_format : str
        One of FORMATS.
    settings : dict, optional
        What is set of the format.
    content : str
        One of CONTENTS.
    progress : callable
        Called with 0..1, from other threads.
    cancelled : callable
        Asked again and again.

    Returns
    -------
    Fired
        What was made.

    Raises
    ------
    KilnError
        For what there is not.
    Superseded
        When `cancelled` says so.
    """
    written, drawn = FORMATS.named(file_format), CONTENTS.named(content)
    begun, target = time.monotonic(), Path(target)
    target.parent.mkdir(parents=True, exist_ok=True)
    choices = {"with_ground": with_ground} if "with_ground" in drawn.settings.model_fields else {}
    pictures = drawn.pictures(piece, drawn.settings.model_validate(choices))
    set_of = written.settings.model_validate(settings or {})
    firing = _Firing(piece.ppi, assets, written, set_of, progress, cancelled, len(pictures))
    try:
        with written_whole(target) as file:
            if drawn.several:
                _zip(firing, pictures, file)
            else:
                firing.make(pictures[0], Path(file.name))
    finally:
        allocator.release_freed()
    return Fired(target, *piece.size_px, target.stat().st_size, time.monotonic() - begun)


def _zip(firing: "_Firing", pictures: list[Picture], file: Any) -> None:
    """A file of each; they are packed already, so that the zip only holds them."""
    suffix = firing.written.suffix
    with ZipFile(file, "w", ZIP_STORED) as together:
        for number, picture in enumerate(pictures):
            with scratch_file(Path(file.name).parent) as one:
                firing.make(picture, Path(one.name), number)
                together.write(one.name, f"{picture.name}.{suffix}")


@dataclass(frozen=True)
class _Firing:
    """How the pictures of a firing are made. settings : of the format. count : of pictures."""

    ppi: float
    assets: Assets | None
    written: Format
    settings: Model
    progress: Callable[[float], None]
    cancelled: Callable[[], bool]
    count: int

    def make(self, picture: Picture, target: Path, number: int = 0) -> None:
        """One file. number : among several."""

        def progress(share: float) -> None:
            self.progress((number + share) / self.count)

        with scratch_file(target.parent) as raw:
            count = self._draw(picture, raw, lambda share: progress(share * DRAWING_SHARE))
            self._pack(self._image(picture, raw.name, count), target, progress)

    def _draw(self, picture: Picture, raw: Any, progress: Callable) -> int:
        """Draw into the raw file; how many channels there are."""
        count = channels(picture.node, self.assets)
        bands = RawBands(raw, picture.box, count, self.written.bits, progress)
        # a cache of its own: a firing passes each tile once and must not push out what the benches
        # look at
        draw_box(
            picture.node,
            picture.box,
            self.assets,
            bands,
            cache=ByteCache(FIRING_CACHE),
            seen=None,
            tile=LARGE_TILE,
            cancelled=self.cancelled,
            patience=pool.FIRING,
        )
        raw.flush()
        return count

    def _image(self, picture: Picture, raw: str, count: int) -> pyvips.Image:
        size, bits = (picture.box.width, picture.box.height), self.written.bits
        image = pyvips.Image.rawload(raw, *size, count, access="sequential", format=VALUES[bits])
        per_mm = self.ppi / MM_PER_INCH
        return image.copy(interpretation=SPACES[bits], xres=per_mm, yres=per_mm)

    def _pack(self, image: pyvips.Image, target: Path, progress: Callable) -> None:
        image.set_progress(True)

        def told(image: pyvips.Image, state: Any) -> None:
            progress(DRAWING_SHARE + (1 - DRAWING_SHARE) * state.percent / 100)
            if self.cancelled():
                image.set_kill(True)

        image.signal_connect("eval", told)
        try:
            self.written.write(image, target, self.settings)
        except pyvips.Error:
            if self.cancelled():
                raise Superseded from None
            raise KilnError(NO_ROOM) from None
        progress(1.0)  # libvips does not always tell the last per cent
