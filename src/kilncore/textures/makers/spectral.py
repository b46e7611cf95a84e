"""Seamless noise drawn in the frequency domain itself: half a spectrum of random numbers, times the
response that is wanted, and one inverse transform. It takes a third of filtering white noise.

Each frequency's two numbers are hashes of its place, nearly normal (`compiled.cell_hash`); the
response is read from a table over the logarithm of the squared frequency. The spread is known
beforehand, by Parseval's theorem. Method of spectral synthesis: Voss, Random fractal forgeries,
1985 (from memory).
"""

from collections.abc import Callable

import numpy as np
import scipy.fft

from kilncore.compiled.cell_hash import cell_noise
from kilncore.compiled.kernels import kernel
from kilncore.textures.makers.spectra import Fields

PLACES, LOWEST, HIGHEST = 4096, -40.0, 8.0  # of the table: log2 of squared frequencies


class SpectralFields(Fields):
    """As `Fields`, quicker; other noise."""

    def cloud(
        self, longest: float, slope: float = 1.6, stretch: float = 1.0, shortest: float = 0.0
    ) -> np.ndarray:
        """Power-law noise, as `Fields.cloud`."""

        def response(squared: np.ndarray) -> np.ndarray:
            falls = (squared + (1 / longest) ** 2) ** (-slope / 2)
            return falls * np.exp(-squared * shortest**2)

        return self._drawn(response, stretch)

    def band(self, wavelength: float, width: float = 0.5, stretch: float = 1.0) -> np.ndarray:
        """Noise around one wavelength, as `Fields.band`."""

        def response(squared: np.ndarray) -> np.ndarray:
            return np.exp(-0.5 * (0.5 * np.log(squared * wavelength**2) / width) ** 2)

        return self._drawn(response, stretch)

    def _drawn(self, response: Callable, stretch: float) -> np.ndarray:
        table = response(2.0 ** np.linspace(LOWEST, HIGHEST, PLACES)).astype(np.float32)
        seed = np.uint32(self.rng.integers(2**32))
        spectrum = np.empty((self.height, self.width // 2 + 1), np.complex64)
        power = _filled(
            spectrum, self.width, table, np.float32(LOWEST), np.float32(HIGHEST), seed, stretch
        )
        scale = self.width * self.height / max(power**0.5, 1e-12)
        field = scipy.fft.irfft2(spectrum, s=(self.height, self.width), overwrite_x=True)
        field *= np.float32(scale)
        Fields.told()
        return field


@kernel
def _filled(
    out: np.ndarray,
    width: int,
    table: np.ndarray,
    lowest: float,
    highest: float,
    seed: int,
    stretch: float,
):
    """Fill half a spectrum; the sum of its squares over all of it."""
    height, columns = out.shape
    steps = np.float32((table.size - 1) / (highest - lowest))
    other = np.uint32(seed ^ np.uint32(0x85EBCA6B))
    power = 0.0
    for y in range(height):
        row = y if y <= height // 2 else y - height
        fy = np.float32(row / height)
        mirrored = height - y if y else 0
        for x in range(columns):
            fx = np.float32(x * stretch / width)
            squared = fx * fx + fy * fy
            if squared == 0:
                out[y, x] = 0
                continue
            place = (np.log2(squared) - lowest) * steps
            place = min(max(place, np.float32(0)), np.float32(table.size - 2))
            first = int(place)
            part = place - np.float32(first)
            share = table[first] * (1 - part) + table[first + 1] * part
            # what lies at the ends of the half must be its own mirror image
            own = x == 0 or 2 * x == width
            if own and mirrored < y:
                out[y, x] = np.conj(out[mirrored, x])
            elif own and mirrored == y:
                out[y, x] = (
                    share * np.float32(1.4142135) * cell_noise(np.int32(x), np.int32(y), seed)
                )
            else:
                a = cell_noise(np.int32(x), np.int32(y), seed)
                b = cell_noise(np.int32(x), np.int32(y), other)
                out[y, x] = np.complex64(complex(share * a, share * b))
            value = out[y, x]
            power += (1 if own else 2) * (value.real * value.real + value.imag * value.imag)
    return power
