"""A ready texture as a file: PNG of 8 or 16 bits, TIFF, or PNG in which its darks are ink on
nothing.
"""

import errno
from pathlib import Path

import numpy as np
import pyvips

from kilncore.errors import KilnError
from kilncore.pixels.luma import luminance_rows
from kilncore.pixels.stored import full_of, straight
from kilncore.pixels.vips import as_image

WAYS = {
    "png8": ("PNG, 8 bits", ".png"),
    "png16": ("PNG, 16 bits", ".png"),
    "tiff": ("TIFF, 16 bits", ".tif"),
    "ink": ("Transparent PNG: its darks are ink", ".png"),
}
COMPRESSION = 4


def write(planes: np.ndarray, way: str, target: Path, ppi: float) -> None:
    """Write (C, H, W) planes; KilnError for another way, OSError where there is no room.

    ppi : noted in the file.
    """
    if way not in WAYS:
        raise KilnError(f"A texture is saved as one of: {', '.join(WAYS)}.", way)
    image = as_image(_pixels(planes, way)).copy(xres=ppi / 25.4, yres=ppi / 25.4)
    try:
        if way == "tiff":
            image.tiffsave(str(target), compression="deflate", predictor="horizontal")
        else:
            image.pngsave(str(target), compression=COMPRESSION)
    except pyvips.Error as error:
        raise OSError(errno.ENOSPC, "the file could not be written", str(target)) from error


def _pixels(planes: np.ndarray, way: str) -> np.ndarray:
    """(H, W, C), straight."""
    if way == "ink":
        dark = _eight(full_of(planes) - luminance_rows(planes)[None])
        return np.ascontiguousarray(
            np.moveaxis(np.concatenate([np.zeros((3, *dark.shape[1:]), np.uint8), dark]), 0, 2)
        )
    colours, alpha = (planes, None) if len(planes) < 4 else straight(planes)
    whole = colours if alpha is None else np.concatenate([colours, alpha[None]])
    whole = _eight(whole) if way == "png8" else _sixteen(whole)
    return np.ascontiguousarray(np.moveaxis(whole, 0, 2))


def _eight(planes: np.ndarray) -> np.ndarray:
    if planes.dtype == np.uint8:
        return planes
    return np.rint(planes * np.float32(1 / 257)).astype(np.uint8)


def _sixteen(planes: np.ndarray) -> np.ndarray:
    return planes.astype(np.uint16) * np.uint16(257) if planes.dtype == np.uint8 else planes
