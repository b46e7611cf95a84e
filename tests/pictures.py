"""Pictures for tests: written and read with Pillow, which the application does not use."""

import io

import numpy as np
from PIL import Image


def png(pixels: np.ndarray, **options) -> bytes:
    return _encoded(pixels, "PNG", **options)


def jpeg(pixels: np.ndarray, **options) -> bytes:
    return _encoded(pixels, "JPEG", **options)


def opened(data: bytes) -> Image.Image:
    image = Image.open(io.BytesIO(data))
    image.load()
    return image


def array(data: bytes) -> np.ndarray:
    return np.asarray(opened(data))


def _encoded(pixels, kind, **options) -> bytes:
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, kind, **options)
    return out.getvalue()
