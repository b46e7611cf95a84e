"""A zlib stream put together from parts that were packed on their own, and so at the same time.

Source: RFC 1950 (zlib) and 1951 (deflate). A part ends with a flush, on a whole byte; the checksum of the whole is worked
out from the parts' checksums and lengths.
"""

from dataclasses import dataclass

import numpy as np
from isal import isal_zlib

HEADER, END = b"\x78\x01", b"\x03\x00"  # and an empty last block
MODULUS = 65521
LEVEL = 1


@dataclass(frozen=True)
class Packed:
    data: bytes
    adler: int
    length: int  # before packing


def packed(data: np.ndarray) -> Packed:
    """data : uint8."""
    data = memoryview(np.ascontiguousarray(data)).cast("B")
    packer = isal_zlib.compressobj(LEVEL, isal_zlib.DEFLATED, -15)
    return Packed(packer.compress(data) + packer.flush(isal_zlib.Z_FULL_FLUSH), isal_zlib.adler32(data), len(data))


def joined_adler(first: int, second: int, second_length: int) -> int:
    """The Adler-32 of two stretches, from those of each."""
    rest = second_length % MODULUS
    low, high = first & 0xFFFF, first >> 16
    a = (low + (second & 0xFFFF) - 1) % MODULUS
    b = (rest * low + high + (second >> 16) - rest) % MODULUS
    return b << 16 | a
