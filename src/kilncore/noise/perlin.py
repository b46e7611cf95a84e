"""Noise that is a function of place and seed only.

`turbulence` follows the reference code of W3C Filter Effects Level 1, feTurbulence (after Perlin
1985).
"""

from typing import Any

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.errors import KilnError

_TABLE, _WRAP, _OFFSET = 256, 255, 4096


def turbulence(
    width: int,
    height: int,
    base_frequency: float | tuple[float, float],
    octaves: int,
    seed: int,
    kind: str = "fractal",
    stitch: bool = False,
) -> np.ndarray:
    """Noise of the standard: its value at pixel indices x, y.

    Parameters
    ----------
    width, height : int
        Px.
    base_frequency : float or (float, float)
        Cycles per px, one number or (across, down), 0 or more.
    octaves : int
        1..16.
    seed : int
        Of the lattice.
    kind : str
        'fractal', a sum of noise around 0.5, or 'turbulence', a sum of its absolute values.
    stitch : bool
        Adjust the frequencies so that the picture tiles.

    Returns
    -------
    (H, W, 4) float32 array
        Straight, 0..1.

    Raises
    ------
    KilnError
        For a kind that there is not, or numbers out of range.

    References
    ----------
    Perlin 1985; W3C, Filter Effects Module Level 1, feTurbulence.
    """
    given: Any = base_frequency
    fx, fy = map(float, (given, given) if np.isscalar(given) else given)
    if kind not in ("fractal", "turbulence") or min(fx, fy) < 0 or not 1 <= octaves <= 16:
        raise KilnError(
            "Turbulence needs a kind, frequencies of 0 or more and 1 to 16 octaves.",
            f"{kind}, {fx}, {fy}, {octaves}",
        )
    if stitch:
        fx, fy = _stitched(fx, width), _stitched(fy, height)
    lattice, gradients = _tables(int(seed))
    return _turbulence(
        width, height, float(fx), float(fy), octaves, lattice, gradients, kind == "fractal", stitch
    )


def _stitched(frequency: float, size: int) -> float:
    """The nearest frequency, by ratio, with a whole number of cycles over the size."""
    if frequency == 0:
        return 0.0
    low, high = np.floor(size * frequency) / size, np.ceil(size * frequency) / size
    return float(low if low and frequency / low < high / frequency else high)


def _tables(seed: int):
    """Lattice and gradient tables, from the standard's Park and Miller generator."""
    seed = -(seed % 2147483646) + 1 if seed <= 0 else seed
    return _fill_tables(min(seed, 2147483646))


@kernel
def _park_miller(seed: int):
    result = 16807 * (seed % 127773) - 2836 * (seed // 127773)
    return result + 2147483647 if result <= 0 else result


@kernel
def _fill_tables(seed: int):
    lattice = np.zeros(2 * _TABLE + 2, np.int64)
    gradients = np.zeros((4, 2 * _TABLE + 2, 2))
    for k in range(4):
        for i in range(_TABLE):
            lattice[i] = i
            for j in range(2):
                seed = _park_miller(seed)
                gradients[k, i, j] = ((seed % (2 * _TABLE)) - _TABLE) / _TABLE
            length = np.sqrt(gradients[k, i, 0] ** 2 + gradients[k, i, 1] ** 2)
            gradients[k, i, 0] /= length
            gradients[k, i, 1] /= length
    for i in range(_TABLE - 1, 0, -1):
        seed = _park_miller(seed)
        j = seed % _TABLE
        lattice[i], lattice[j] = lattice[j], lattice[i]
    for i in range(_TABLE + 2):
        lattice[_TABLE + i] = lattice[i]
        for k in range(4):
            gradients[k, _TABLE + i] = gradients[k, i]
    return lattice, gradients


@kernel
def _noise2(
    gradients: np.ndarray,
    lattice: np.ndarray,
    x: int,
    y: int,
    wrap_x: int,
    wrap_y: int,
    at_x: int,
    at_y: int,
    stitch: bool,
):
    tx, ty = x + _OFFSET, y + _OFFSET
    bx0, by0 = int(tx), int(ty)
    bx1, by1 = bx0 + 1, by0 + 1
    rx0, ry0 = tx - bx0, ty - by0
    rx1, ry1 = rx0 - 1, ry0 - 1
    if stitch:
        bx0 = bx0 - wrap_x if bx0 >= at_x else bx0
        bx1 = bx1 - wrap_x if bx1 >= at_x else bx1
        by0 = by0 - wrap_y if by0 >= at_y else by0
        by1 = by1 - wrap_y if by1 >= at_y else by1
    i, j = lattice[bx0 & _WRAP], lattice[bx1 & _WRAP]
    y0, y1 = by0 & _WRAP, by1 & _WRAP
    b00, b10, b01, b11 = lattice[i + y0], lattice[j + y0], lattice[i + y1], lattice[j + y1]
    sx, sy = rx0 * rx0 * (3 - 2 * rx0), ry0 * ry0 * (3 - 2 * ry0)
    u = rx0 * gradients[b00, 0] + ry0 * gradients[b00, 1]
    v = rx1 * gradients[b10, 0] + ry0 * gradients[b10, 1]
    a = u + sx * (v - u)
    u = rx0 * gradients[b01, 0] + ry1 * gradients[b01, 1]
    v = rx1 * gradients[b11, 0] + ry1 * gradients[b11, 1]
    return a + sy * (u + sx * (v - u) - a)


@kernel
def _turbulence(
    width: int,
    height: int,
    fx: float,
    fy: float,
    octaves: int,
    lattice: float,
    gradients: np.ndarray,
    fractal: float,
    stitch: float,
):
    out = np.empty((height, width, 4), np.float32)
    for y in range(height):
        for x in range(width):
            for c in range(4):
                total, ratio = 0.0, 1.0
                wrap_x, wrap_y = int(width * fx + 0.5), int(height * fy + 0.5)
                at_x, at_y = wrap_x + _OFFSET, wrap_y + _OFFSET
                for _ in range(octaves):
                    value = _noise2(
                        gradients[c],
                        lattice,
                        x * fx * ratio,
                        y * fy * ratio,
                        wrap_x,
                        wrap_y,
                        at_x,
                        at_y,
                        stitch,
                    )
                    total += (value if fractal else abs(value)) / ratio
                    ratio *= 2
                    wrap_x, wrap_y = wrap_x * 2, wrap_y * 2
                    at_x, at_y = 2 * at_x - _OFFSET, 2 * at_y - _OFFSET
                total = (total + 1) / 2 if fractal else total
                out[y, x, c] = min(max(total, 0.0), 1.0)
    return out
