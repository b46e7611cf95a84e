"""Seamless noise with a chosen spectrum: white noise filtered in the frequency domain, which wraps
by nature.

Wavelengths are in px, so a larger picture holds more noise, not larger noise. Every field has mean
0 and deviation 1.
"""

from collections.abc import Callable

import numpy as np

BAND_ROWS = 256


class Fields:
    """Noise fields of one size from one seed; each call gives the next, independent one. told :
    called after each.
    """

    told: Callable[[], None] = staticmethod(lambda: None)

    def __init__(self, width: int, height: int, seed: int):
        self.width, self.height = width, height
        self.rng = np.random.default_rng(seed)
        self._fx = np.fft.rfftfreq(width)[None, :].astype(np.float32)
        self._fy = np.fft.fftfreq(height)[:, None].astype(np.float32)

    def cloud(
        self, longest: float, slope: float = 1.6, stretch: float = 1.0, shortest: float = 0.0
    ) -> np.ndarray:
        """Power-law noise: amplitude falls with frequency to the power `slope` below the wavelength
        `longest`.

        stretch : how many times longer the features are across than down. shortest : wavelengths
        below fade out.
        """
        f = self._frequency(stretch)
        response = (f**2 + (1 / longest) ** 2) ** (-slope / 2)
        if shortest:
            response = response * np.exp(-((f * shortest) ** 2))
        return self._filtered(response)

    def band(self, wavelength: float, width: float = 0.5, stretch: float = 1.0) -> np.ndarray:
        """Noise around one wavelength; width : of the band, in natural log units of frequency."""
        f = np.maximum(self._frequency(stretch), 1e-9)
        return self._filtered(np.exp(-0.5 * (np.log(f * wavelength) / width) ** 2))

    def blurred(self, values: np.ndarray, sigma: float) -> np.ndarray:
        """A Gaussian blur that wraps."""
        response = np.exp(-2 * (np.pi * sigma * self._frequency(1.0)) ** 2)
        return np.fft.irfft2(np.fft.rfft2(values) * response, s=values.shape).astype(np.float32)

    def _frequency(self, stretch: float) -> np.ndarray:
        return np.hypot(self._fx * stretch, self._fy)

    def _filtered(self, response: np.ndarray) -> np.ndarray:
        white = self.rng.standard_normal((self.height, self.width), dtype=np.float32)
        response = np.array(np.broadcast_to(response, (self.height, self.width // 2 + 1)))
        response[0, 0] = 0
        spectrum = np.fft.rfft2(white)
        spectrum *= response
        field = np.fft.irfft2(spectrum, s=white.shape)
        even = (field / max(field.std(), 1e-12)).astype(np.float32)
        Fields.told()
        return even


def soft_step(values: np.ndarray, low: float, high: float) -> np.ndarray:
    """0 below low, 1 above high, smooth between."""
    t = np.clip((values - low) / (high - low), 0, 1)
    return t * t * (3 - 2 * t)


def slope_light(height_map: np.ndarray) -> np.ndarray:
    """How light falls on a relief from the upper left: positive where it faces the light. Wraps."""
    across = np.roll(height_map, -1, 1) - np.roll(height_map, 1, 1)
    down = np.roll(height_map, -1, 0) - np.roll(height_map, 1, 0)
    return -(across + down) / 2


def to_bytes(planes: np.ndarray) -> np.ndarray:
    """0..1 to uint8, with an axis for channels; a band of rows at a time."""
    planes = planes[None] if planes.ndim == 2 else planes
    out = np.empty(planes.shape, np.uint8)
    for rows in bands(planes.shape[1]):
        out[:, rows] = np.rint(np.clip(planes[:, rows], 0, 1) * 255)
    return out


def mixed(amount: np.ndarray, *colours: tuple[int, int, int]) -> np.ndarray:
    """(3, H, W) float32: 0..1 run through evenly spaced 8-bit colours; a band of rows at a time."""
    stops = np.linspace(0, 1, len(colours))
    table = np.array(colours, np.float32) / 255
    out = np.empty((3, *amount.shape), np.float32)
    for rows in bands(amount.shape[0]):
        for c in range(3):
            out[c, rows] = np.interp(amount[rows], stops, table[:, c])
    return out


def bands(height: int):
    """Slices of rows, so that what is worked out in between stays small."""
    return [slice(top, min(top + BAND_ROWS, height)) for top in range(0, height, BAND_ROWS)]
