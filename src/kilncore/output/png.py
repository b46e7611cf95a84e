"""PNG (W3C, third edition): 8 bits a channel, sRGB profile embedded, ppi in pHYs.

Rows are filtered and packed in bands that know nothing of each other, so that two threads can work on one file and no
more of it than a few bands is ever in memory.
"""

import struct
import zlib
from functools import cache
from io import BytesIO

import numpy as np
import pyvips

from kilncore.engine import pool
from kilncore.kernels import kernel
from kilncore.output import deflate
from kilncore.units import MM_PER_INCH

SIGNATURE = b"\x89PNG\r\n\x1a\n"
COLOUR_TYPES = {1: 0, 3: 2, 4: 6}
BAND_ROWS = 64


class PngWriter:
    """Bands are packed on any thread and added in order, then the file is closed."""

    def __init__(self, file, width: int, height: int, channels: int, ppi: float | None = None):
        self.file, self.adler = file, 1
        file.write(SIGNATURE + _chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, COLOUR_TYPES[channels], 0, 0, 0)))
        if ppi is not None:
            file.write(_chunk(b"iCCP", b"sRGB\0\0" + zlib.compress(_srgb_profile())))
            per_metre = round(ppi * 1000 / MM_PER_INCH)
            file.write(_chunk(b"pHYs", struct.pack(">IIB", per_metre, per_metre, 1)))
        file.write(_chunk(b"IDAT", deflate.HEADER))

    @staticmethod
    def packed(rows: np.ndarray) -> deflate.Packed:
        """rows : (H, W, C) uint8, straight."""
        return deflate.packed(_filtered(np.ascontiguousarray(rows).reshape(len(rows), -1), rows.shape[2]))

    def add(self, band: deflate.Packed) -> None:
        self.file.write(_chunk(b"IDAT", band.data))
        self.adler = deflate.joined_adler(self.adler, band.adler, band.length)

    def close(self) -> None:
        self.file.write(_chunk(b"IDAT", deflate.END + struct.pack(">I", self.adler)) + _chunk(b"IEND", b""))


def encoded(pixels: np.ndarray) -> bytes:
    """PNG bytes of (H, W, C) uint8 for the screen: two threads, no profile."""
    out = BytesIO()
    writer = PngWriter(out, pixels.shape[1], pixels.shape[0], pixels.shape[2])
    tops = range(0, len(pixels), max(BAND_ROWS, -(-len(pixels) // 8)))
    bands = {}

    def pack(top: int) -> None:
        bands[top] = writer.packed(pixels[top : top + tops.step])

    pool.each(pack, tops)
    for top in tops:
        writer.add(bands[top])
    writer.close()
    return out.getvalue()


def as_image(pixels: np.ndarray) -> pyvips.Image:
    """(H, W, C) uint8 as a libvips image."""
    height, width, bands = pixels.shape
    image = pyvips.Image.new_from_memory(np.ascontiguousarray(pixels).data, width, height, bands, "uchar")
    return image.copy(interpretation="srgb" if bands > 2 else "b-w")


def _chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(data, zlib.crc32(kind)))


@cache
def _srgb_profile() -> bytes:
    return bytes(pyvips.Image.profile_load("srgb"))


@kernel
def _filtered(rows, bytes_per_pixel):
    """Each row behind the number of its filter: none, sub or up, whichever leaves the smallest sum of differences.

    Source: PNG, 12.7 (the heuristic of least absolute differences). The first row of a band has none above it.
    """
    height, width = rows.shape
    out = np.empty((height, width + 1), np.uint8)
    for y in range(height):
        row, line = rows[y], out[y, 1:]
        plain = left = above = 0
        for x in range(width):
            plain += abs(np.int32(np.int8(row[x])))
        for x in range(bytes_per_pixel, width):
            left += abs(np.int32(np.int8(row[x] - row[x - bytes_per_pixel])))
        if y > 0:
            for x in range(width):
                above += abs(np.int32(np.int8(row[x] - rows[y - 1, x])))
        if y > 0 and above < left and above < plain:
            out[y, 0] = 2
            for x in range(width):
                line[x] = row[x] - rows[y - 1, x]
        elif left < plain:
            out[y, 0] = 1
            for x in range(bytes_per_pixel):
                line[x] = row[x]
            for x in range(bytes_per_pixel, width):
                line[x] = row[x] - row[x - bytes_per_pixel]
        else:
            out[y, 0] = 0
            for x in range(width):
                line[x] = row[x]
    return out
