"""Taking a plain background out of the pixels along its edge.

An edge pixel of art on a plain background is a mixture, C = a F + (1 - a) B, in encoded values, as
art is drawn. B is what the background is close by, F the nearest solid colour of the art; how much
of the way from B to F a pixel has gone is its alpha. Only a zone of a few pixels along the edge is
looked at, and each of its pixels looks around itself: the work and the memory are those of the
edge, however large the picture.
"""

import numpy as np

from kilncore.compiled.kernels import kernel, subroutine
from kilncore.system.bands import in_bands
from kilncore.system.opencv import cv2

BEYOND = 3  # px into the art and into the background: as wide as an edge may be
LOOK = 6  # px: how far solid colour and clear background are looked for
FLAT = 6  # of 255: by how much the pixels around one of a flat area differ at most
STRAYS = 0.2  # off the way from B to F by more, and a pixel is no mixture of them
CHROMA = 0.06
SAMPLED = 40_000  # px, from which the background's colours and noise are told
CLEAR, SOLID, EDGE, EDGE_CLEAR = 0, 2, 3, 4


def unmixed(
    planes: np.ndarray, background: np.ndarray, colours: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """(alpha, planes): (H, W) of the planes' type, full where the art is solid, and the straight
    colours with the background taken out.

    planes : (3, H, W) uint8 or uint16, straight. background : (H, W) uint8, 1 where it is. colours
    : (N, 3), 0..1, of the background, for where none of it lies clear.
    """
    sorts = _sorts(planes, background)
    unit = 255.0 if planes.dtype == np.uint8 else 65535.0
    alpha = np.empty(background.shape, planes.dtype)
    out = planes.copy()
    known, noise = _settled(planes, sorts, np.asarray(colours, np.float64).reshape(-1, 3) * unit)
    in_bands(
        len(sorts),
        lambda top, bottom: _unmix(
            planes, sorts, known, unit, noise, np.int64(top), np.int64(bottom), alpha, out
        ),
    )
    return alpha, out


def _sorts(planes: np.ndarray, background: np.ndarray) -> np.ndarray:
    """(H, W) uint8: clear background, solid art, and the zone of the edge on either side."""
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * BEYOND + 1, 2 * BEYOND + 1))
    wide = cv2.dilate(background, kernel)
    art = np.uint8(1) - background
    back = cv2.dilate(art, kernel)
    sorts = np.uint8(EDGE_CLEAR) * (background & back) + art * (np.uint8(SOLID) + wide)
    _mark_flat(planes, sorts, FLAT if planes.dtype == np.uint8 else FLAT * 257)
    return sorts


@kernel
def _mark_flat(planes: np.ndarray, sorts: np.ndarray, most: float):
    """Art that is flat all around is solid, however near the edge: thin strokes have some."""
    _, height, width = planes.shape
    for y in range(1, height - 1):
        for x in range(1, width - 1):
            if sorts[y, x] != EDGE:
                continue
            flat = True
            for c in range(3):
                here = np.int64(planes[c, y, x])
                for j in range(-1, 2):
                    for i in range(-1, 2):
                        if abs(np.int64(planes[c, y + j, x + i]) - here) > most:
                            flat = False
            if flat:
                sorts[y, x] = SOLID


def _settled(planes: np.ndarray, sorts: np.ndarray, known: np.ndarray) -> tuple:
    """What the background's colours are in this picture, and its noise: how far pixels are from
    them, twice the median.
    """
    step = max(1, int(np.sqrt(sorts.size / SAMPLED)))
    values = planes[:, ::step, ::step][:, sorts[::step, ::step] == CLEAR].T.astype(np.float64)
    if len(values) < 100:
        return np.ascontiguousarray(known), 0.0
    own = ((values[:, None] - known) ** 2).sum(2).argmin(1)
    known = np.array(
        [
            np.median(values[own == n], 0) if (own == n).any() else colour
            for n, colour in enumerate(known)
        ]
    )
    away = np.sqrt(((values - known[own]) ** 2).sum(1))
    full = 255 if planes.dtype == np.uint8 else 65535
    return known, float(min(2 * np.median(away), 0.05 * full))


@subroutine
def _square(planes: np.ndarray, y: int, x: int, colour: np.ndarray):
    total = 0.0
    for c in range(3):
        step = planes[c, y, x] - colour[c]
        total += step * step
    return total


@subroutine
def _mean_around(
    planes: np.ndarray,
    sorts: np.ndarray,
    y: int,
    x: int,
    sort: float,
    near: float,
    into: np.ndarray,
):
    """The mean of the pixels of a sort around one of them that differ from it by less than
    `near`, written into a colour.
    """
    height, width = sorts.shape
    count = 0
    own = (np.float64(planes[0, y, x]), np.float64(planes[1, y, x]), np.float64(planes[2, y, x]))
    for c in range(3):
        into[c] = 0.0
    for j in range(max(y - 2, 0), min(y + 3, height)):
        for i in range(max(x - 2, 0), min(x + 3, width)):
            if sorts[j, i] != sort or _square(planes, j, i, own) > near * near:
                continue
            for c in range(3):
                into[c] += planes[c, j, i]
            count += 1
    for c in range(3):
        into[c] /= count


@subroutine
def _nearest(sorts: np.ndarray, y: int, x: int, sort: float):
    """The row and column of the nearest pixel of a sort within LOOK; -1 if there is none. Looked
    for in squares, from the nearest outwards.
    """
    height, width = sorts.shape
    least, row, column = LOOK * LOOK + 1, -1, -1
    for ring in range(1, LOOK + 1):
        if ring * ring >= least:
            break
        top, bottom, left, right = y - ring, y + ring, x - ring, x + ring
        for j in range(max(top, 0), min(bottom, height - 1) + 1):
            step = 1 if j == top or j == bottom else 2 * ring
            for i in range(left, right + 1, step):
                if 0 <= i < width and sorts[j, i] == sort:
                    square = (j - y) * (j - y) + (i - x) * (i - x)
                    if square < least:
                        least, row, column = square, j, i
    return row, column


@subroutine
def _closest(planes: float, y: int, x: int, known: np.ndarray, into: np.ndarray):
    """The nearest of the known colours of the background."""
    best = np.inf
    for n in range(len(known)):
        square = _square(planes, y, x, known[n])
        if square < best:
            best = square
            for c in range(3):
                into[c] = known[n, c]


@subroutine
def _weighed(r0: float, g0: float, b0: float, r1: float, g1: float, b1: float):
    """The inner product of two differences of colours, in luma and chroma (ITU-R BT.601, as JPEG
    has them), chroma counting for less: in a JPEG it is blurred over neighbours, and luma is not.
    """
    y0 = 0.299 * r0 + 0.587 * g0 + 0.114 * b0
    y1 = 0.299 * r1 + 0.587 * g1 + 0.114 * b1
    chroma = 0.318 * (b0 - y0) * (b1 - y1) + 0.508 * (r0 - y0) * (r1 - y1)
    return y0 * y1 + CHROMA * chroma


@subroutine
def _way(planes: np.ndarray, y: int, x: int, back: np.ndarray, front: np.ndarray):
    """(share of the way from back to front, the square of how far off it) of a pixel."""
    r, g, b = planes[0, y, x] - back[0], planes[1, y, x] - back[1], planes[2, y, x] - back[2]
    fr, fg, fb = front[0] - back[0], front[1] - back[1], front[2] - back[2]
    square = _weighed(fr, fg, fb, fr, fg, fb)
    if square < 1e-9:
        return 1.0, 0.0
    share = _weighed(r, g, b, fr, fg, fb) / square
    off = (r - share * fr) ** 2 + (g - share * fg) ** 2 + (b - share * fb) ** 2
    return share, off


@subroutine
def _farthest(
    planes: np.ndarray,
    sorts: np.ndarray,
    y: int,
    x: int,
    around: int,
    most_off: float,
    back: float,
    front: np.ndarray,
):
    """Into front: of the art's pixels around this one, the farthest from the background that this
    one lies on the way to; whether there is one.
    """
    height, width = sorts.shape
    best, there = _square(planes, y, x, back), False
    other = np.empty(3)
    for j in range(max(y - around, 0), min(y + around + 1, height)):
        for i in range(max(x - around, 0), min(x + around + 1, width)):
            if sorts[j, i] != EDGE and sorts[j, i] != SOLID:
                continue
            square = _square(planes, j, i, back)
            if square <= best:
                continue
            for c in range(3):
                other[c] = planes[c, j, i]
            if _way(planes, y, x, back, other)[1] <= most_off:
                best, there = square, True
                for c in range(3):
                    front[c] = other[c]
    return there


@kernel
def _unmix(
    planes: np.ndarray,
    sorts: np.ndarray,
    known: float,
    unit: float,
    noise: float,
    top: int,
    bottom: int,
    alpha: np.ndarray,
    out: np.ndarray,
):
    width = sorts.shape[1]
    back, front = np.empty(3), np.empty(3)
    most_off, near = (STRAYS * unit) ** 2, 2 * FLAT / 255 * unit
    for y in range(top, bottom):
        for x in range(width):
            sort = sorts[y, x]
            if sort == CLEAR:
                alpha[y, x] = 0
                for c in range(3):
                    out[c, y, x] = 0
                continue
            if sort == SOLID:
                alpha[y, x] = unit
                continue
            row, column = _nearest(sorts, y, x, CLEAR)
            if row >= 0:
                _mean_around(planes, sorts, row, column, CLEAR, near, back)
            else:
                _closest(planes, y, x, known, back)
            row, column = _nearest(sorts, y, x, SOLID)
            share, off = 0.0, np.inf
            if row >= 0:
                _mean_around(planes, sorts, row, column, SOLID, near, front)
                share, off = _way(planes, y, x, back, front)
            if off > most_off:
                around = 3 if row < 0 else 2
                if _farthest(planes, sorts, y, x, around, most_off, back, front):
                    share, off = _way(planes, y, x, back, front)
                else:  # no mixture: of its own colour, or of the background's
                    share = 0.0 if sort == EDGE_CLEAR else 1.0
                    for c in range(3):
                        front[c] = planes[c, y, x]
            share = min(max(0.0, share), 1.0)
            if sort == EDGE_CLEAR and share * np.sqrt(_apart(back, front)) < noise:
                share = 0.0
            alpha[y, x] = np.uint16(share * unit + 0.5)
            for c in range(3):
                value = front[c]
                if share >= 0.5:
                    value = back[c] + (planes[c, y, x] - back[c]) / share
                out[c, y, x] = np.uint16(min(max(0.0, value), unit) + 0.5) if share > 0 else 0


@subroutine
def _apart(one: np.ndarray, other: np.ndarray):
    total = 0.0
    for c in range(3):
        step = one[c] - other[c]
        total += step * step
    return total
