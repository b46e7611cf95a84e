"""Three raw scans of the demo's world: made by makers, and spoilt on purpose as scans are."""

import math

import numpy as np

from kilncore.noise.white import white_noise
from kilncore.pixels.vips import as_image
from kilncore.system.opencv import cv2
from kilncore.textures import makers

QUALITY = 92


def customs_wall() -> bytes:
    """Rendered concrete, lit from the left, with a stain, cut where it does not repeat."""
    planes = _made("concrete", 2100, 1500, 31)[:, 40:1440, 60:2020]
    _, height, width = planes.shape
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    light = 1.12 - 0.6 * (x / width) ** 1.3 - 0.12 * (y / height)
    stain = _stain(height, width, 0.66, 0.4, 0.06, 5)
    warm = np.array([1.0, 0.985, 0.95], np.float32)[:, None, None]
    brown = np.array([0.62, 0.52, 0.42], np.float32)[:, None, None]
    return _jpeg(planes * light * warm * (1 - stain * (1 - brown)), 0.012, 8)


def blotting_paper() -> bytes:
    """Old paper from the ticket office, with a vignette, two rings of a cup and a crooked cut."""
    planes = _made("paper", 1900, 1500, 12)[:, 30:1430, 50:1830]
    _, height, width = planes.shape
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    away = np.hypot((x - width * 0.55) / width, (y - height * 0.45) / height)
    rings = 1 - (1 - _ring(x, y, 430, 980, 170)) * (1 - 0.7 * _ring(x, y, 640, 890, 168))
    brown = np.array([0.72, 0.6, 0.44], np.float32)[:, None, None]
    spoilt = planes * (1.05 - 0.75 * away**2) * (1 - 0.6 * rings * (1 - brown))
    return _jpeg(spoilt, 0.015, 21)


def hull_paint() -> bytes:
    """Rubbed paint of the hull: pale, lit from below, on warm film."""
    planes = _made("grunge", 1800, 1500, 77)[:, 25:1425, 35:1735]
    _, height, width = planes.shape
    y = np.linspace(0, 1, height, dtype=np.float32)[:, None]
    tones = 0.35 + 0.4 * planes[:1] * (0.62 + 0.5 * y)
    tint = np.array([1.0, 0.93, 0.84], np.float32)[:, None, None]
    return _jpeg(tones * tint, 0.02, 3)


SCANS = {
    "Customs house wall, raw": customs_wall,
    "Blotting paper, raw": blotting_paper,
    "Hull paint, raw": hull_paint,
}

STROKE = ((0.6, 0.34), (0.73, 0.34), (0.73, 0.47), (0.59, 0.47), (0.61, 0.4), (0.72, 0.4))
CLEANED = {
    "Customs house wall, raw": (
        {"kind": "grey"},
        {"kind": "flatten"},
        {"kind": "clean", "patches": [{"points": STROKE, "width": 0.07}]},
        {"kind": "two-tone", "share": 0.12, "contrast": 0.12},
        {"kind": "specks", "way": "drop", "least_px": 4},
        {"kind": "seamless", "overlap": 0.12},
    )
}


def _made(name: str, width: int, height: int, seed: int) -> np.ndarray:
    planes = makers.make(name, width, height, seed, makers.MAKERS[name].settings())
    return (planes if len(planes) == 3 else np.repeat(planes, 3, 0)).astype(np.float32) / 255


def _wobble(height: int, width: int, cell: float, seed: int) -> np.ndarray:
    step = 1 / cell
    return white_noise((step, 0.0, 0.0, step, 0.0, 0.0), 0, 0, width, height, seed, True)


def _stain(height, width, across, down, size, seed) -> np.ndarray:
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    radius = size * width * (1 + 0.16 * _wobble(height, width, 130, seed))
    radius *= 1 + 0.05 * _wobble(height, width, 28, seed + 1)
    away = np.hypot((x - across * width) / 1.25, y - down * height)
    rim = np.exp(-(((away - radius * 0.95) / (0.06 * radius)) ** 2))
    return np.clip(0.75 / (1 + np.exp((away - radius) / (0.03 * width / 4))) + 0.25 * rim, 0, 1)


def _ring(x, y, across, down, radius) -> np.ndarray:
    height, width = x.shape
    away = np.hypot(x - across, y - down) + 3 * _wobble(height, width, 45, int(across))
    gap = 0.75 + 0.25 * np.cos(np.arctan2(y - down, x - across) - across / 60 * math.pi)
    return gap * np.exp(-(((away - radius) / 6) ** 2))


def _jpeg(planes: np.ndarray, noise: float, seed: int) -> bytes:
    _, height, width = planes.shape
    grain = noise * _wobble(height, width, 1.0, seed)
    planes = np.stack([cv2.GaussianBlur(plane, (0, 0), 0.7) for plane in planes]) + grain
    pixels = np.rint(np.clip(planes, 0, 1) * 255).astype(np.uint8)
    return as_image(np.ascontiguousarray(np.moveaxis(pixels, 0, 2))).jpegsave_buffer(Q=QUALITY)
