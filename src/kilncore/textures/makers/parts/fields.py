"""Seamless noise drawn in the frequency domain itself: half a spectrum of random numbers, times the
response that is wanted, and one inverse transform. It takes a third of filtering white noise.

Each frequency's two numbers are hashes of its place, nearly normal (`compiled.cell_hash`), so that
another resolution of the same piece of material has the same frequencies, and more or fewer of
them. The response is read from a table over the root of the frequency. The spread is
known beforehand, by Parseval's theorem. Method of spectral synthesis: Voss, Random fractal
forgeries, 1985 (from memory).
"""

from collections.abc import Callable, Mapping
from types import MappingProxyType

import numpy as np
import scipy.fft

from kilncore.compiled.cell_hash import cell_noise
from kilncore.compiled.kernels import inlined, kernel
from kilncore.system.opencv import cv2
from kilncore.textures.makers.parts.halves import THREADS, by_rows

REFERENCE_PPI = 300
PLACES, MOST_PLACES = 4096, 65536  # of the table, over the fourth root of squared frequencies
LEAST = 1e-18  # of them
MISSING = 256  # to a side: frequencies at which what a coarse picture cannot hold is weighed
ROUND, LEAST_COARSE = 3, 16  # px around a coarse field, and of its shorter side
BY_FILTER = 12  # px: a wider blur is quicker by its spectrum


class Fields:
    """Noise fields of one size from one seed; each call gives the next, independent one, of mean 0
    and deviation 1. ppi : of what is drawn; lengths are px at 300 ppi. drawings : sanitised SVGs
    by their hashes. told : called after each.
    """

    told: Callable[[], None] = staticmethod(lambda: None)

    def __init__(
        self,
        width: int,
        height: int,
        seed: int,
        ppi: float = REFERENCE_PPI,
        drawings: Mapping[str, bytes] = MappingProxyType({}),
    ):
        self.width, self.height, self.drawings = width, height, drawings
        self.scale = ppi / REFERENCE_PPI
        self.rng = np.random.default_rng(seed)

    @property
    def megapixels(self) -> float:
        """Of its area, at 300 ppi."""
        return self.width * self.height / self.scale**2 / 1e6

    def count(self, per_megapixel: float) -> int:
        """Of things strewn so densely, at least one."""
        return max(1, round(per_megapixel * self.megapixels))

    def cloud(
        self, longest: float, slope: float = 1.6, stretch: float = 1.0, shortest: float = 0.0
    ) -> np.ndarray:
        """Power-law noise: amplitude falls with frequency to the power `slope` below the wavelength
        `longest`.

        stretch : how many times longer the features are across than down. shortest : wavelengths
        below fade out.
        """

        def response(squared: np.ndarray) -> np.ndarray:
            falls = (squared + (1 / longest) ** 2) ** (-slope / 2)
            return falls * np.exp(-squared * shortest**2)

        return self._drawn(response, stretch, shortest)

    def swell(self, longest: float, slope: float = 1.6, stretch: float = 1.0) -> np.ndarray:
        """A cloud without what is finer than a tenth of it: for what varies slowly. Quicker."""
        return self.cloud(longest, slope, stretch, 0.1 * longest)

    def sway(
        self, px: float, longest: float, slope: float = 1.6, shortest: float = 0.0
    ) -> tuple[np.ndarray, np.ndarray]:
        """(across, down): clouds of that deviation, by which something is shifted so that it is not
        straight. The second is the first from half the picture away, where it is another.
        """
        across = self.cloud(longest, slope, shortest=shortest)
        across *= np.float32(px)
        return across, np.roll(across, (self.height // 2, self.width // 2), (0, 1))

    def band(self, wavelength: float, width: float = 0.5, stretch: float = 1.0) -> np.ndarray:
        """Noise around one wavelength; width : of the band, in natural log units of frequency."""

        def response(squared: np.ndarray) -> np.ndarray:
            return np.exp(-0.5 * (0.5 * np.log(squared * wavelength**2) / width) ** 2)

        return self._drawn(response, stretch, 2.5 * wavelength * np.exp(-3.2 * width))

    def blurred(self, values: np.ndarray, sigma: float) -> np.ndarray:
        """A Gaussian blur that wraps."""
        sigma = sigma * self.scale
        if sigma < 0.05:
            return values.astype(np.float32)
        around = int(4 * sigma) + 2
        if sigma <= BY_FILTER and around < min(values.shape):
            wide = np.pad(values.astype(np.float32), around, mode="wrap")
            return cv2.GaussianBlur(wide, (0, 0), sigma)[around:-around, around:-around].copy()
        fx = scipy.fft.rfftfreq(self.width).astype(np.float32)[None]
        fy = scipy.fft.fftfreq(self.height).astype(np.float32)[:, None]
        spectrum = scipy.fft.rfft2(values.astype(np.float32), workers=THREADS)
        spectrum *= np.exp(-2 * (np.pi * sigma) ** 2 * fx**2)
        spectrum *= np.exp(-2 * (np.pi * sigma) ** 2 * fy**2)
        return scipy.fft.irfft2(spectrum, s=values.shape, overwrite_x=True, workers=THREADS)

    def _drawn(self, response: Callable, stretch: float, finest: float) -> np.ndarray:
        """finest : px; 2.5 times below, nothing is left of the response."""
        times = self._coarser(finest * min(1.0, stretch))
        coarse = self._by_spectrum(response, stretch, self.width // times, self.height // times)
        Fields.told()
        return coarse if times == 1 else self._enlarged(coarse, times)

    def _coarser(self, finest: float) -> int:
        """How many times as coarse a field may be drawn: what is left out is nothing."""
        times = 1
        while (
            finest * self.scale >= 5 * 2 * times
            and self.width % (2 * times) == self.height % (2 * times) == 0
            and min(self.width, self.height) >= LEAST_COARSE * 2 * times
        ):
            times *= 2
        return times

    def _enlarged(self, coarse: np.ndarray, times: int) -> np.ndarray:
        wide = np.pad(coarse, ROUND, mode="wrap")
        large = cv2.resize(wide, None, fx=times, fy=times, interpolation=cv2.INTER_CUBIC)
        cut = ROUND * times
        return large[cut:-cut, cut:-cut].copy()

    def _by_spectrum(
        self, response: Callable, stretch: float, width: int, height: int
    ) -> np.ndarray:
        scale = self.scale * width / self.width
        farthest = 0.5 * scale * np.hypot(stretch, 1.0)
        places = int(min(PLACES * max(1.0, farthest**0.5), MOST_PLACES))
        roots = np.linspace(0, farthest**0.5 * 1.001, places)
        table = response(np.maximum(roots**4, LEAST)).astype(np.float32)
        steps = np.float32((places - 1) / roots[-1])
        seed = np.uint32(self.rng.integers(2**32))
        spectrum = np.empty((height, width // 2 + 1), np.complex64)

        def filled(top: int, end: int) -> float:
            told = width, table, steps, seed, np.float32(stretch), scale
            return _filled(spectrum, top, end, *told)

        power = sum(by_rows(height, filled)) + self._missing(response, stretch)
        if width != self.width:  # each px of it lies in the middle of those that it stands for
            off = (self.width / width - 1) / 2
            across = np.exp(2j * np.pi * off / self.width * np.arange(width // 2 + 1))
            down = np.exp(2j * np.pi * off / self.height * (scipy.fft.fftfreq(height) * height))
            spectrum *= (down[:, None] * across[None]).astype(np.complex64)
        field = scipy.fft.irfft2(spectrum, s=(height, width), overwrite_x=True, workers=THREADS)
        field *= np.float32(width * height / max(power**0.5, 1e-12))
        return field

    def _missing(self, response: Callable, stretch: float) -> float:
        """The power of the frequencies that 300 ppi holds and a coarser picture does not."""
        if self.scale >= 1:
            return 0.0
        one = (np.arange(MISSING) + 0.5) / MISSING - 0.5
        across, down = np.meshgrid(one, one)
        beyond = np.maximum(np.abs(across), np.abs(down)) > 0.5 * self.scale
        weighed = response((across * stretch) ** 2 + down**2) ** 2 * beyond
        return 2 * float(weighed.mean()) * self.megapixels * 1e6


@inlined
def _share(table: np.ndarray, steps: float, squared: float):
    """Of the response, at a squared frequency."""
    place = np.sqrt(np.sqrt(squared)) * steps
    first = min(int(place), table.size - 2)
    part = place - np.float32(first)
    return table[first] + (table[first + 1] - table[first]) * part


@kernel
def _filled(
    out: np.ndarray,
    top: int,
    end: int,
    width: int,
    table: np.ndarray,
    steps: float,
    seed: int,
    stretch: float,
    scale: float,
):
    """Fill some rows of half a spectrum; the sum of squares, over all of these frequencies, of
    those that 300 ppi holds. What lies at the ends of the half is its own mirror image.
    """
    height, columns = out.shape
    other = np.uint32(seed ^ np.uint32(0x85EBCA6B))
    per = np.float32(scale / width)
    held = min(columns, int(0.5 / per) + 1)  # columns that 300 ppi holds
    power = 0.0
    for y in range(top, end):
        row = y if y <= height // 2 else y - height
        down = np.float32(row * scale / height)
        squares = down * down
        total = np.float32(0)
        for x in range(1, columns):
            fx = np.float32(x) * per * stretch
            share = _share(table, steps, fx * fx + squares)
            a = share * cell_noise(np.int32(x), np.int32(row), seed)
            b = share * cell_noise(np.int32(x), np.int32(row), other)
            out[y, x] = np.complex64(complex(a, b))
            if x < held:
                total += a * a + b * b
        counted = 2 * float(total) if abs(down) <= 0.5 else 0.0
        for x in (0, width // 2):
            if x and 2 * x != width:
                continue
            fx = np.float32(x) * per * stretch
            at = -row if row < 0 else row
            share = _share(table, steps, fx * fx + squares)
            a = share * cell_noise(np.int32(x), np.int32(at), seed)
            b = share * cell_noise(np.int32(x), np.int32(at), other)
            if row == 0 or 2 * row == height:
                a, b = a * np.float32(1.4142135), np.float32(0)
            if x == 0 and row == 0:
                a = np.float32(0)
            was = out[y, x]
            out[y, x] = np.complex64(complex(a, -b if row < 0 else b))
            if abs(down) <= 0.5 and x < held:
                if x:
                    counted -= 2 * (was.real * was.real + was.imag * was.imag)
                counted += a * a + b * b
        power += counted
    return power
