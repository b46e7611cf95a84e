"""Which pixels have nearly a given colour: the distance is that of OKLab, a and b doubled."""

from functools import lru_cache

import numpy as np

from kilncore.compiled.kernels import kernel, subroutine
from kilncore.pixels.oklab import CHROMA, LAB, LMS, oklab
from kilncore.pixels.transfer_curve import to_linear
from kilncore.system.bands import in_bands

CELL = 4  # of 256 tones: colours are sorted by cells of so many each way
FAR, NEAR, MIXED = 0, 1, 2
_LINEAR = to_linear(np.arange(256) / 255)


def near(planes: np.ndarray, colours: np.ndarray, tolerance: float) -> np.ndarray:
    """(H, W) uint8: 1 where a picture is within `tolerance` of one of the colours, else 0.

    planes : (3, H, W) uint8 or uint16, straight. colours : (N, 3), 0..1. Most colours are told by a
    table of cells; only cells through which the limit runs are worked out pixel by pixel.
    """
    known = oklab(np.asarray(colours, np.float64).reshape(-1, 3))
    shift = 8 if planes.dtype == np.uint16 else 0
    cells, out = _cells(known, tolerance), np.empty(planes.shape[1:], np.uint8)

    def work(top: int, bottom: int) -> None:
        rows = planes[:, top:bottom], out[top:bottom]
        _near(rows[0], shift, known, tolerance, cells, _LINEAR, LMS, LAB, rows[1])

    in_bands(len(out), work)
    return out


@lru_cache
def _corners() -> np.ndarray:
    """(65, 65, 65, 3) float32: the cells' corners in OKLab, a and b doubled."""
    ends = np.minimum(np.arange(0, 257, CELL), 255) / 255
    corners = oklab(np.stack(np.meshgrid(ends, ends, ends, indexing="ij"), -1))
    return (corners * (1, CHROMA, CHROMA)).astype(np.float32)


@lru_cache(maxsize=16)
def _corner_distances(colour: tuple[float, float, float]) -> np.ndarray:
    """(65, 65, 65) of the corners from a colour in OKLab."""
    step = _corners() - np.array(colour, np.float32) * np.array((1, CHROMA, CHROMA), np.float32)
    return np.sqrt(np.einsum("...c,...c", step, step))


def _cells(known: np.ndarray, tolerance: float) -> np.ndarray:
    """(64, 64, 64) uint8: whether all colours of a cell are near, far, or some of each, by its
    corners, with half their spread to spare.
    """
    away = np.min([_corner_distances(tuple(one)) for one in known], axis=0)
    least, most = away, away
    for axis in range(3):
        first, last = (
            [slice(None)] * axis + [slice(None, -1)],
            [slice(None)] * axis + [slice(1, None)],
        )
        least = np.minimum(least[tuple(first)], least[tuple(last)])
        most = np.maximum(most[tuple(first)], most[tuple(last)])
    spare = (most - least) / 2
    cells = np.full(most.shape, MIXED, np.uint8)
    cells[most + spare <= tolerance] = NEAR
    cells[least - spare > tolerance] = FAR
    return cells


@subroutine
def _within(
    r: int,
    g: int,
    b: int,
    known: np.ndarray,
    tolerance: float,
    linear: np.ndarray,
    lms: np.ndarray,
    lab: np.ndarray,
):
    r, g, b = linear[r], linear[g], linear[b]
    x = np.cbrt(lms[0, 0] * r + lms[0, 1] * g + lms[0, 2] * b)
    y = np.cbrt(lms[1, 0] * r + lms[1, 1] * g + lms[1, 2] * b)
    z = np.cbrt(lms[2, 0] * r + lms[2, 1] * g + lms[2, 2] * b)
    for n in range(len(known)):
        square = 0.0
        for c in range(3):
            step = lab[c, 0] * x + lab[c, 1] * y + lab[c, 2] * z - known[n, c]
            square += step * step * (CHROMA * CHROMA if c else 1.0)
        if square <= tolerance * tolerance:
            return True
    return False


@kernel
def _near(
    planes: np.ndarray,
    shift: float,
    known: float,
    tolerance: float,
    cells: np.ndarray,
    linear: float,
    lms: float,
    lab: float,
    out: np.ndarray,
):
    _, height, width = planes.shape
    for y in range(height):
        for x in range(width):
            r, g, b = planes[0, y, x] >> shift, planes[1, y, x] >> shift, planes[2, y, x] >> shift
            state = cells[r // CELL, g // CELL, b // CELL]
            if state == MIXED:
                state = np.uint8(_within(r, g, b, known, tolerance, linear, lms, lab))
            out[y, x] = state
