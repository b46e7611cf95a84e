"""Reading a picture file into a texture, within limits.

Pixels of unknown depth, profile and colour model go through libvips, which brings CMYK and embedded profiles to sRGB;
16 bits stay 16. Only PNG and JPEG are let in, told apart by their first bytes and never by their name.
"""

import numpy as np
import pyvips

from kilncore.errors import UnusableFile
from kilncore.textures.texture import Texture

MAX_BYTES = 80 * 2**20
MAX_PIXELS = 100_000_000
MIN_SIDE = 16
SIGNATURES = {b"\x89PNG\r\n\x1a\n": "png", b"\xff\xd8\xff": "jpeg"}


def kind_of(data: bytes) -> str:
    """'png' or 'jpeg', or UnusableFile."""
    for signature, kind in SIGNATURES.items():
        if data.startswith(signature):
            return kind
    raise UnusableFile("This is not a PNG or JPEG picture. Save it as one of these and bring it in again.")


def read(data: bytes) -> Texture:
    """The picture as a Texture, upright and in sRGB; UnusableFile, with a plain reason, if it cannot be one."""
    if len(data) > MAX_BYTES:
        raise UnusableFile(f"This file is larger than {MAX_BYTES >> 20} MB. Save it smaller, or as JPEG.")
    kind = kind_of(data)
    try:
        image = _opened(data, kind)
        return Texture(_pixels(image))
    except pyvips.Error as error:
        raise UnusableFile("This picture is damaged or cut short: it could not be read to its end.", str(error)) from error


def _opened(data: bytes, kind: str) -> pyvips.Image:
    loader = pyvips.Image.pngload_buffer if kind == "png" else pyvips.Image.jpegload_buffer
    image = loader(data, fail_on="truncated")
    if image.width * image.height > MAX_PIXELS:
        raise UnusableFile(f"This picture has {image.width} x {image.height} px; "
                           f"{MAX_PIXELS // 10**6} million pixels is the most.")
    if min(image.width, image.height) < MIN_SIDE:
        raise UnusableFile(f"This picture has {image.width} x {image.height} px; {MIN_SIDE} px is the least each way.")
    return image.autorot() if kind == "jpeg" else image


def _pixels(image: pyvips.Image) -> np.ndarray:
    """(C, H, W) planes of 8 bits, or of 16 where the file has them; premultiplied where it has alpha."""
    deep = image.format == "ushort"
    alpha = image[image.bands - 1] if image.hasalpha() else None
    planes = np.moveaxis(_array(_colour(image, deep)), 2, 0)
    if alpha is None:
        return planes
    cover = np.moveaxis(_array(alpha), 2, 0)
    full = np.iinfo(cover.dtype).max
    if cover.min() == full:
        return planes
    out = np.empty((4, *planes.shape[1:]), planes.dtype)
    for plane, colour in zip(out, np.broadcast_to(planes, (3, *planes.shape[1:])), strict=False):
        plane[:] = np.rint(colour * (cover[0] / np.float32(full)))
    out[3] = cover[0]
    return out


def _colour(image: pyvips.Image, deep: bool) -> pyvips.Image:
    grey = image.interpretation in ("b-w", "grey16") and not _has_profile(image)
    if _has_profile(image):
        colour = image.icc_transform("srgb", embedded=True, intent="relative", depth=16 if deep else 8)
    else:
        colour = image.colourspace("rgb16" if deep else "srgb")
    return colour.extract_band(0, n=1 if grey else min(3, colour.bands)).cast("ushort" if deep else "uchar")


def _has_profile(image: pyvips.Image) -> bool:
    return image.get_typeof("icc-profile-data") != 0


def _array(image: pyvips.Image) -> np.ndarray:
    data = image.write_to_memory()
    depth = np.uint16 if image.format == "ushort" else np.uint8
    return np.frombuffer(data, depth).reshape(image.height, image.width, image.bands)
