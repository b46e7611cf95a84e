"""Reading a picture file, within limits of size and of memory.

Pixels of unknown depth, profile and colour model go through libvips, which brings CMYK and embedded
profiles to sRGB; 16 bits stay 16. Which formats are let in is told by their first bytes and never
by their name; of several frames or pages the first is read. A picture is read band by band into the
planes, and only so much at once in the whole process as the machine has room for.
What libvips says of an error is never passed on: it can carry lines of another file.
"""

import threading
from contextlib import contextmanager
from typing import Any

import numpy as np
import pyvips

from kilncore.errors import UnusableFile
from kilncore.system.hardware import MEMORY

MAX_BYTES = 80 * 2**20  # of a file that comes in
MOST_BYTES = 256 * 2**20  # of one that was made here: 8192 x 8192 px in colour, hardly packed
MAX_PIXELS = 100_000_000
MIN_SIDE = 16
BAND_PIXELS = 2_000_000
FORMATS = "PNG, JPEG, WebP, TIFF, AVIF or GIF"
LOADERS = {
    "png": pyvips.Image.pngload_buffer,
    "jpeg": pyvips.Image.jpegload_buffer,
    "webp": pyvips.Image.webpload_buffer,
    "tiff": pyvips.Image.tiffload_buffer,
    "avif": pyvips.Image.heifload_buffer,
    "gif": pyvips.Image.gifload_buffer,
}
SIGNATURES = {  # first bytes: PNG 1.2, JFIF, RFC 9649 (WebP), TIFF 6.0 and BigTIFF, GIF87a and 89a
    b"\x89PNG\r\n\x1a\n": "png",
    b"\xff\xd8\xff": "jpeg",
    b"II*\0": "tiff",
    b"MM\0*": "tiff",
    b"II+\0": "tiff",
    b"MM\0+": "tiff",
    b"GIF87a": "gif",
    b"GIF89a": "gif",
}
AVIF_BRANDS = (b"avif", b"avis")
DAMAGED = "This picture is damaged or cut short: it could not be read to its end."
NO_ROOM = (
    "There is not enough memory to read this picture now. Nothing was changed; try again "
    "when less is going on, or bring it in smaller."
)


class Room:
    """So many bytes, of which readers take what they need and wait for one another. One that needs
    more than all takes all.
    """

    def __init__(self, whole: int):
        self.whole, self._free, self._changed = whole, whole, threading.Condition()

    @contextmanager
    def taken(self, wanted: int):
        """So many bytes, for as long as the block lasts; waits until they are free."""
        wanted = min(wanted, self.whole)
        with self._changed:
            self._changed.wait_for(lambda: self._free >= wanted)
            self._free -= wanted
        try:
            yield
        finally:
            with self._changed:
                self._free += wanted
                self._changed.notify_all()


ROOM = Room(max(512 * 2**20, MEMORY // 12))


def is_picture(data: bytes) -> bool:
    """Whether its first bytes are those of a picture."""
    return _kind(data) is not None


def too_large() -> str:
    """What is said of a file of too many bytes."""
    return f"This file is larger than {MAX_BYTES >> 20} MB. Save it smaller, or as JPEG."


def kind_of(data: bytes) -> str:
    """One of LOADERS, or UnusableFile."""
    kind = _kind(data)
    if kind is None:
        raise UnusableFile(
            f"This is not a {FORMATS} picture. Save it as one of these and bring it in again."
        )
    return kind


def _kind(data: bytes) -> str | None:
    for signature, kind in SIGNATURES.items():
        if data.startswith(signature):
            return kind
    if data[:4] == b"RIFF" and data[8:12] == b"WEBP":
        return "webp"
    if data[4:8] == b"ftyp" and any(brand in data[8:40] for brand in AVIF_BRANDS):
        return "avif"
    return None


def planes_of(data: bytes) -> np.ndarray:
    """(C, H, W) uint8 or uint16 planes of a file (`pixels.stored`), upright and in sRGB;
    UnusableFile, with a plain reason, if it is none.
    """
    if len(data) > MOST_BYTES:
        raise UnusableFile(too_large())
    try:
        image = _opened(data, kind_of(data))
        with ROOM.taken(
            3 * image.width * image.height * image.bands * (2 if image.format == "ushort" else 1)
        ):
            return np.ascontiguousarray(_upright(_planes(image), image))
    except pyvips.Error as error:
        short = any("out of memory" in str(part) for part in (error.message, error.detail))
        raise UnusableFile(NO_ROOM if short else DAMAGED) from None
    except MemoryError:
        raise UnusableFile(NO_ROOM) from None


def _opened(data: bytes, kind: str) -> pyvips.Image:
    image = LOADERS[kind](data, fail_on="error", access="sequential")
    if image.width * image.height > MAX_PIXELS:
        raise UnusableFile(
            f"This picture has {image.width} x {image.height} px; "
            f"{MAX_PIXELS // 10**6} million pixels is the most."
        )
    if min(image.width, image.height) < MIN_SIDE:
        raise UnusableFile(
            f"This picture has {image.width} x {image.height} px; {MIN_SIDE} px is the least "
            "each way."
        )
    if image.format not in ("uchar", "ushort"):  # whole numbers of 32 bits, or floats
        image = image.colourspace("rgb16" if image.bands > 2 else "grey16").cast("ushort")
    return image


def _planes(image: pyvips.Image) -> np.ndarray:
    """(C, H, W) planes of 8 bits, or of 16 where the file has them; premultiplied where it has
    alpha.
    """
    deep = image.format == "ushort"
    colour = _colour(image, deep)
    clear = image.hasalpha()
    count = 4 if clear else colour.bands
    planes = np.empty((count, image.height, image.width), np.uint16 if deep else np.uint8)
    whole = colour.bandjoin(image[image.bands - 1].cast(colour.format)) if clear else colour
    full, least = np.iinfo(planes.dtype).max, np.iinfo(planes.dtype).max
    for top, band in _bands(whole, planes.dtype):
        here = planes[:, top : top + len(band)]
        if clear:
            least = min(least, int(band[..., -1].min()))
            share = band[..., -1:] / np.float32(full)
            here[:3] = np.moveaxis(np.rint(band[..., :-1] * share), 2, 0)
            here[3] = band[..., -1]
        else:
            here[...] = np.moveaxis(band, 2, 0)
    if clear and least == full:
        return planes[: colour.bands]
    return planes


def _bands(image: pyvips.Image, kind: Any):
    """(top, (h, W, C) array) from top to bottom."""
    region, tall = pyvips.Region.new(image), max(1, BAND_PIXELS // image.width)
    for top in range(0, image.height, tall):
        rows = min(tall, image.height - top)
        values = np.frombuffer(region.fetch(0, top, image.width, rows), kind)
        yield top, values.reshape(rows, image.width, image.bands)


def _upright(planes: np.ndarray, image: pyvips.Image) -> np.ndarray:
    """Turned and mirrored as the camera's note says (Exif 2.3, Orientation; PNG's eXIf says it
    alike).
    """
    noted = image.get("orientation") if image.get_typeof("orientation") else 1
    mirrored, turns = {
        2: (True, 0),
        3: (False, 2),
        4: (True, 2),
        5: (True, 1),
        6: (False, 3),
        7: (True, 3),
        8: (False, 1),
    }.get(noted, (False, 0))
    planes = planes[..., ::-1] if mirrored else planes
    return np.rot90(planes, turns, (1, 2)) if turns else planes


def _colour(image: pyvips.Image, deep: bool) -> pyvips.Image:
    grey = image.interpretation in ("b-w", "grey16") and not _has_profile(image)
    if _has_profile(image):
        colour = image.icc_transform(
            "srgb", embedded=True, intent="relative", depth=16 if deep else 8
        )
    else:
        colour = image.colourspace("rgb16" if deep else "srgb")
    return colour.extract_band(0, n=1 if grey else min(3, colour.bands)).cast(
        "ushort" if deep else "uchar"
    )


def _has_profile(image: pyvips.Image) -> bool:
    return image.get_typeof("icc-profile-data") != 0
