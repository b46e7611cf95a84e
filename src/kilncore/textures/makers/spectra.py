"""Seamless noise with a chosen spectrum: white noise filtered in the frequency domain, which wraps by nature.

Wavelengths are in px, so a larger picture holds more noise, not larger noise. Every field has mean 0 and deviation 1.
"""

import numpy as np


class Fields:
    """Noise fields of one size from one seed; each call gives the next, independent one."""

    def __init__(self, width: int, height: int, seed: int):
        self.width, self.height = width, height
        self.rng = np.random.default_rng(seed)
        self._fx = np.fft.rfftfreq(width)[None, :].astype(np.float32)
        self._fy = np.fft.fftfreq(height)[:, None].astype(np.float32)

    def cloud(self, longest: float, slope: float = 1.6, stretch: float = 1.0, shortest: float = 0.0) -> np.ndarray:
        """Power-law noise: amplitude falls with frequency to the power `slope` below the wavelength `longest`.

        stretch : how many times longer the features are across than down. shortest : wavelengths below fade out.
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
        field = np.fft.irfft2(np.fft.rfft2(white) * response, s=white.shape)
        return (field / max(field.std(), 1e-12)).astype(np.float32)


def soft_step(values, low: float, high: float) -> np.ndarray:
    """0 below low, 1 above high, smooth between."""
    t = np.clip((values - low) / (high - low), 0, 1)
    return t * t * (3 - 2 * t)


def slope_light(height_map: np.ndarray) -> np.ndarray:
    """How light falls on a relief from the upper left: positive where it faces the light. Wraps."""
    across = np.roll(height_map, -1, 1) - np.roll(height_map, 1, 1)
    down = np.roll(height_map, -1, 0) - np.roll(height_map, 1, 0)
    return -(across + down) / 2


def to_bytes(planes: np.ndarray) -> np.ndarray:
    """0..1 to uint8, with an axis for channels."""
    planes = planes[None] if planes.ndim == 2 else planes
    return np.rint(np.clip(planes, 0, 1) * 255).astype(np.uint8)


def mixed(amount: np.ndarray, *colours: tuple[int, int, int]) -> np.ndarray:
    """(3, H, W): 0..1 run through evenly spaced 8-bit colours."""
    stops = np.linspace(0, 1, len(colours))
    table = np.array(colours, np.float32) / 255
    return np.stack([np.interp(amount, stops, table[:, c]).astype(np.float32) for c in range(3)])
