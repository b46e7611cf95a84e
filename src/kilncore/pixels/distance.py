"""The signed distance to the edge of a shape, to a fraction of a pixel, from its antialiased
coverage.

Method: each edge pixel carries its edge point and normal, after Gustavson and Strand, "Anti-aliased
Euclidean distance transform", Pattern Recognition Letters 32 (2011). The nearest edge pixel of
every pixel is found exactly, by Felzenszwalb and Huttenlocher, "Distance Transforms of Sampled
Functions", Theory of Computing 8 (2012), with the place of the least kept. The distance is then
that to a short piece of edge, not to a point, and the least over the nearest edge pixel and its
neighbours on the lower envelope. Within 8 px of smooth shapes it is right to 0.03 to 0.06 px (root
mean square).
"""

import math

import numpy as np

from kilncore.compiled.kernels import kernel, subroutine

EDGE_FROM, EDGE_TO = 0.1, 0.9  # of coverage: between them lies an edge
HALF_PIECE = 0.6  # px of edge to either side of an edge point
NONE, SQRT2 = -1, math.sqrt(2)
NEARLY_NONE = (
    0.01  # of coverage: less lies outside, whatever the pieces of edge around a corner say
)


def signed_distance(coverage: np.ndarray, most: float) -> np.ndarray:
    """(H, W) float32 px: positive inside, negative outside, cut to -most .. most.

    coverage : (H, W) float32, 0..1. Beyond its borders it goes on as at the border. most : px,
    above 0; what lies as far from every edge is `most` away.
    """
    coverage = np.ascontiguousarray(coverage, np.float32)
    if coverage.ndim != 2 or not coverage.size or not 0 < most < 1e6:
        raise ValueError(f"{coverage.shape} is no coverage, or {most} px no distance")
    number, points = _edges(coverage)
    return _distances(coverage, number, points, float(most))


@subroutine
def _edge_distance(gx: float, gy: float, a: float):
    """How far the middle of a pixel covered by `a` lies outside its edge, along the unit
    gradient.
    """
    gx, gy = abs(gx), abs(gy)
    if gx < gy:
        gx, gy = gy, gx
    if gy < 1e-6:
        return 0.5 - a
    corner = 0.5 * gy / gx
    if a < corner:
        return 0.5 * (gx + gy) - math.sqrt(2 * gx * gy * a)
    if a < 1 - corner:
        return (0.5 - a) * gx
    return -0.5 * (gx + gy) + math.sqrt(2 * gx * gy * (1 - a))


@subroutine
def _is_edge(coverage: np.ndarray, y: int, x: int):
    height, width = coverage.shape
    a = coverage[y, x]
    if EDGE_FROM <= a <= EDGE_TO:
        return True
    if a < EDGE_TO:
        return False
    return (
        (x > 0 and coverage[y, x - 1] < EDGE_FROM)
        or (x + 1 < width and coverage[y, x + 1] < EDGE_FROM)
        or (y > 0 and coverage[y - 1, x] < EDGE_FROM)
        or (y + 1 < height and coverage[y + 1, x] < EDGE_FROM)
    )


@subroutine
def _gradient(coverage: np.ndarray, y: int, x: int):
    """Towards more coverage, of length 1, or (0, 0)."""
    height, width = coverage.shape
    up, down, left, right = (
        max(y - 1, 0),
        min(y + 1, height - 1),
        max(x - 1, 0),
        min(x + 1, width - 1),
    )
    gx = (
        coverage[up, right]
        - coverage[up, left]
        + SQRT2 * (coverage[y, right] - coverage[y, left])
        + coverage[down, right]
        - coverage[down, left]
    )
    gy = (
        coverage[down, left]
        - coverage[up, left]
        + SQRT2 * (coverage[down, x] - coverage[up, x])
        + coverage[down, right]
        - coverage[up, right]
    )
    length = math.sqrt(gx * gx + gy * gy)
    return (gx / length, gy / length) if length > 1e-6 else (0.0, 0.0)


@kernel
def _edges(coverage: np.ndarray):
    """(H, W) int32 numbers of edge pixels, -1 elsewhere, and (N, 4) float32: their edge points and
    normals (inwards).
    """
    height, width = coverage.shape
    number, count = np.full((height, width), NONE, np.int32), 0
    for y in range(height):
        for x in range(width):
            if _is_edge(coverage, y, x):
                number[y, x] = count
                count += 1
    points = np.empty((count, 4), np.float32)
    for y in range(height):
        for x in range(width):
            n = number[y, x]
            if n != NONE:
                gx, gy = _gradient(coverage, y, x)
                away = _edge_distance(gx, gy, min(max(0.0, coverage[y, x]), 1.0))
                points[n, 0], points[n, 1] = x + gx * away, y + gy * away
                points[n, 2], points[n, 3] = gx, gy
    return number, points


@subroutine
def _to_piece(points: np.ndarray, n: int, x: int, y: int):
    """(distance, how far inside) from a place to the piece of edge of one edge pixel."""
    px, py, nx, ny = x - points[n, 0], y - points[n, 1], points[n, 2], points[n, 3]
    across = px * nx + py * ny
    along = max(abs(px * ny - py * nx) - HALF_PIECE, 0.0)
    if nx == 0.0 and ny == 0.0:
        return math.sqrt(px * px + py * py), 0.0
    return math.sqrt(across * across + along * along), across


@subroutine
def _nearest_rows(number: np.ndarray):
    """(H, W) int32: of each pixel the row of the nearest edge pixel in its column, -1 if there is
    none.
    """
    height, width = number.shape
    rows = np.full((height, width), NONE, np.int32)
    for x in range(width):
        last = NONE
        for y in range(height):
            last = y if number[y, x] != NONE else last
            rows[y, x] = last
    for x in range(width):
        last = NONE
        for i in range(height):
            y = height - 1 - i
            last = y if number[y, x] != NONE else last
            if last != NONE and (rows[y, x] == NONE or last - y < y - rows[y, x]):
                rows[y, x] = last
    return rows


@kernel
def _distances(coverage: np.ndarray, number: np.ndarray, points: float, most: float):
    height, width = coverage.shape
    rows = _nearest_rows(number)
    out = np.empty((height, width), np.float32)
    place, start, squares = np.empty(width, np.int64), np.empty(width + 1), np.empty(width)
    for y in range(height):
        count = 0
        for x in range(width):
            if rows[y, x] == NONE:
                continue
            square = float(y - rows[y, x]) ** 2
            s = -np.inf
            while count:
                q = place[count - 1]
                s = ((square + x * x) - (squares[q] + q * q)) / (2.0 * (x - q))
                if s > start[count - 1]:
                    break
                count -= 1
                s = -np.inf
            place[count], start[count], squares[x] = x, s, square
            count += 1
        k = 0
        for x in range(width):
            inside = coverage[y, x] > 0.5
            least, side = most, 0.0
            if count:
                while k + 1 < count and start[k + 1] < x:
                    k += 1
                for j in range(max(k - 1, 0), min(k + 2, count)):
                    column = place[j]
                    away, across = _to_piece(points, number[rows[y, column], column], x, y)
                    if away < least:
                        least, side = away, across
            if least < 1.0 and side != 0.0 and NEARLY_NONE < coverage[y, x] < 1 - NEARLY_NONE:
                inside = side > 0.0
            out[y, x] = least if inside else -least
    return out
