"""Outlines of set glyphs as straight edges, fine enough for any size they are drawn at.

Glyphs that touch one another are united, the others stand alone: a letter's edges do not depend on
letters that it does not touch, nor on where its word begins. Skia unites in font units, where
points of a font are exact.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
import pathops

from kilncore.errors import KilnError
from kilncore.geometry.paths import grown, met
from kilncore.typesetting.fonts import Face, face
from kilncore.typesetting.shaping import Glyph

TOLERANCE = 2e-5  # of the em: 0.04 px on letters of 2000 px
MOST_EDGES = 400_000  # of one text
MOST_POINTS = 20_000  # of one glyph
MOST_NEAR = 3_000_000  # pairs of edges that may cross: beyond, they are left as they are
GLYPH_CROSSINGS, GROUP_CROSSINGS, TEXT_CROSSINGS = 600, 8_000, 20_000
"""Of edges: what crosses more often is left as it is. Uniting costs about 20 microseconds for each;
no letter that is one crosses itself a hundred times."""
CELLS, SAMPLED = 48, 64
MITRE = 2.0  # of letters that are grown: corners sharper than a right angle's half would be spikes
OVERLAPS = 2e-5  # of a square em: what only touches does not lie over one another
INTRICATE = "These words are too intricate in this font. Use fewer of them, or another font."


@dataclass(frozen=True, eq=False)
class Outline:
    """edges : (N, 4) float64, closed, united, around (0, 0). width, height : of the box. In ems."""

    edges: np.ndarray
    width: float
    height: float

    @property
    def nbytes(self) -> int:
        """Bytes of its edges."""
        return self.edges.nbytes

    def placed(self, matrix: tuple[float, ...]) -> np.ndarray:
        """The edges after x' = a x + c y + e, y' = b x + d y + f."""
        a, b, c, d, e, f = matrix
        x, y = self.edges[:, 0::2], self.edges[:, 1::2]
        out = np.empty_like(self.edges)
        out[:, 0::2], out[:, 1::2] = a * x + c * y + e, b * x + d * y + f
        return out


def edges_of(glyphs: list[Glyph], by: float = 0.0) -> np.ndarray:
    """(N, 4) edges of glyphs, in ems, y downward; KilnError if there are too many. by : how far
    outside their outlines they lie, in ems; inside, below 0.
    """
    outlines = [edges for _, edges in outlines_of(glyphs, by)]
    return np.concatenate(outlines) if outlines else np.empty((0, 4))


def outlines_of(glyphs: list[Glyph], by: float = 0.0) -> Iterator[tuple[list[Glyph], np.ndarray]]:
    """(glyphs that touch, their edges) of all of them, as `edges_of` gives them."""
    count, left = 0, float(TEXT_CROSSINGS)
    for together in touching(glyphs):
        edges, crossed = _united(together, left, by) if len(together) > 1 else _alone(together, by)
        left -= crossed
        count += len(edges)
        if count > MOST_EDGES:
            raise KilnError(INTRICATE)
        yield together, edges


def _alone(glyphs: list[Glyph], by: float) -> tuple[np.ndarray, float]:
    (glyph,) = glyphs
    edges = _grown_shape(glyph.face.ref, glyph.face.axes, glyph.id, by)
    return edges + np.array([glyph.x, -glyph.y] * 2), 0.0


@lru_cache(maxsize=4096)
def _grown_shape(ref: str, axes: tuple, glyph: int, by: float) -> np.ndarray:
    shape = _shape_of(ref, axes, glyph)
    if not by or not len(shape.edges):
        return shape.edges
    units = face(ref, axes).units
    return flattened(_grown(shape.path, by * units), units)


def _grown(path: pathops.Path, by: float) -> pathops.Path:
    found = grown(path, by, MITRE)
    found.convertConicsToQuads()
    return found


def _united(glyphs: list[Glyph], most: float, by: float = 0.0) -> tuple[np.ndarray, float]:
    """(glyphs that touch, as one, how often their edges cross): counted from the first of them, so
    that it does not matter where they stand. most : crossings beyond which they are left apart.
    """
    first = glyphs[0]
    units, whole, plain = first.face.units, pathops.Path(), []
    for glyph in glyphs:
        dx, dy = ((round((a - b) * units, 3)) for a, b in ((glyph.x, first.x), (glyph.y, first.y)))
        unit = units / glyph.face.units
        shape = _shape(glyph)
        whole.addPath(shape.path.transform(unit, 0, 0, unit, dx, dy))
        plain.append(shape.edges + np.array([dx, -dy] * 2) / units)
    edges = np.concatenate(plain)
    crossed = _crossings(edges)
    if crossed <= min(most, GROUP_CROSSINGS) and _near(edges) <= MOST_NEAR:
        whole = _simple(whole)
        edges = flattened(_grown(whole, by * units) if by else whole, units)
    else:
        crossed = 0
    return edges + np.array([first.x, -first.y] * 2), crossed


def touching(glyphs: list[Glyph]) -> list[list[Glyph]]:
    """Glyphs in groups whose boxes meet, each in the order in which it was given."""
    drawn = [glyph for glyph in glyphs if len(_shape(glyph).edges)]
    if not drawn:
        return []
    boxes = np.array([_box(glyph) for glyph in drawn])
    group = np.arange(len(drawn))
    for n, box in enumerate(boxes[:-1]):
        rest = boxes[n + 1 :]
        meets = ~(
            (rest[:, 0] > box[2])
            | (rest[:, 2] < box[0])
            | (rest[:, 1] > box[3])
            | (rest[:, 3] < box[1])
        )
        for other in np.flatnonzero(meets) + n + 1:
            if group[other] != group[n]:
                group[group == group[other]] = group[n]
    return [[drawn[n] for n in np.flatnonzero(group == one)] for one in dict.fromkeys(group)]


def overlapping(one: Glyph, other: Glyph) -> bool:
    """Whether the outlines of two glyphs lie over one another, as joined letters do."""
    if one.face.units != other.face.units:
        return False
    units = one.face.units
    apart = round((other.x - one.x) * units), round((other.y - one.y) * units)
    return _overlap(
        (one.face.ref, one.face.axes, one.id), (other.face.ref, other.face.axes, other.id), apart
    )


@lru_cache(maxsize=4096)
def _overlap(one: tuple, other: tuple, apart: tuple[int, int]) -> bool:
    paths = _shape_of(*one).path, _shape_of(*other).path.transform(1, 0, 0, 1, *apart)
    return abs(met(*paths).area) > OVERLAPS * face(*one[:2]).units ** 2


def _box(glyph: Glyph) -> tuple[float, ...]:
    left, top, right, bottom = _shape(glyph).box
    return left + glyph.x, top - glyph.y, right + glyph.x, bottom - glyph.y


@dataclass(frozen=True, eq=False)
class _Shape:
    """One glyph. path : in font units, y upward. edges, box : in ems, y downward."""

    path: pathops.Path
    edges: np.ndarray
    box: tuple[float, ...]


def _shape(glyph: Glyph) -> _Shape:
    return _shape_of(glyph.face.ref, glyph.face.axes, glyph.id)


@lru_cache(maxsize=4096)
def _shape_of(ref: str, axes: tuple, glyph: int) -> _Shape:
    used: Face = face(ref, axes)
    path = pathops.Path()
    used.font.draw_glyph_with_pen(glyph, _Bounded(path.getPen()))
    path.convertConicsToQuads()
    edges = flattened(path, used.units)
    if _crossings(edges) <= GLYPH_CROSSINGS and _near(edges) <= MOST_NEAR:
        path = _simple(path)
        edges = flattened(path, used.units)
    xs, ys = edges[:, 0::2], edges[:, 1::2]
    box = (xs.min(), ys.min(), xs.max(), ys.max()) if len(edges) else (0.0,) * 4
    return _Shape(path, edges, tuple(float(n) for n in box))


def _simple(path: pathops.Path) -> pathops.Path:
    """The path without overlaps; as it is where Skia cannot tell."""
    simple = pathops.Path(path)
    try:
        simple.simplify(fix_winding=True)
    except pathops.PathOpsError:
        return path
    simple.convertConicsToQuads()
    return simple


def _near(edges: np.ndarray) -> float:
    """About how many pairs of edges lie near one another: what uniting them will cost."""
    if len(edges) < 2:
        return 0
    middles = (edges[:, :2] + edges[:, 2:]) / 2
    low, high = middles.min(0), middles.max(0)
    cell = ((middles - low) / np.maximum(high - low, 1e-9) * (CELLS - 1)).astype(int)
    counts = np.bincount(cell[:, 0] * CELLS + cell[:, 1]).astype(float)
    spans = np.abs(edges[:, 2:] - edges[:, :2]) / np.maximum(high - low, 1e-9)
    long = np.count_nonzero(spans.max(1) > 0.05)
    return float((counts**2).sum() + long * len(edges))


def _crossings(edges: np.ndarray) -> float:
    """About how many pairs of edges cross: of some of them with all."""
    count = len(edges)
    some = edges[:: max(1, count // SAMPLED)]
    both = _parts(some[:, None], edges[None]) & _parts(edges[None], some[:, None])
    return float(both.sum()) * count / max(2 * len(some), 1)


def _parts(lines: np.ndarray, edges: np.ndarray) -> np.ndarray:
    """Whether the ends of edges lie on different sides of lines, each (..., 4)."""
    along = lines[..., 2:] - lines[..., :2]
    first, last = (
        along[..., 0] * (edges[..., n + 1] - lines[..., 1])
        - along[..., 1] * (edges[..., n] - lines[..., 0])
        for n in (0, 2)
    )
    return first * last < 0


class _Bounded:
    """A pen that draws so many points of a glyph, and then says no."""

    def __init__(self, pen: Any):
        self._pen, self._left = pen, MOST_POINTS

    def __getattr__(self, name: str):
        act = getattr(self._pen, name)

        def draw(*points: Any):
            self._left -= len(points)
            if self._left < 0:
                raise KilnError(INTRICATE)
            act(*points)

        return draw


def flattened(path: pathops.Path, units: float) -> np.ndarray:
    """(N, 4) edges of a Skia path with y upward, in ems with y downward. units : of the path to the
    em.
    """
    stretches: dict[int, list] = {}  # by their degree
    start = here = None
    for verb, points in path:
        if verb == pathops.PathVerb.MOVE:
            start = here = points[0]
            continue
        line = (here, start) if verb == pathops.PathVerb.CLOSE else (here, *points)
        stretches.setdefault(len(line) - 1, []).append(line)
        here = line[-1]
    curves = [_cut(np.array(lines, np.float64), TOLERANCE * units) for lines in stretches.values()]
    edges = np.concatenate([np.empty((0, 4)), *curves]) / units
    if not np.isfinite(edges).all():
        raise KilnError(INTRICATE)
    return edges * np.array([1, -1, 1, -1])


def _cut(curves: np.ndarray, tolerance: float) -> np.ndarray:
    """(M, 4) chords of (N, degree + 1, 2) lines or Bezier curves, none of which strays further than
    the tolerance.

    The number of cuts is the classic bound from the second differences: sqrt(n (n - 1) bend / (8
    tolerance)).
    """
    degree = curves.shape[1] - 1
    if degree == 1:
        return curves.reshape(-1, 4)
    bend = np.abs(np.diff(curves, 2, axis=1)).max((1, 2))
    counts = np.ceil(np.sqrt(degree * (degree - 1) * bend / (8 * tolerance)))
    counts = np.nan_to_num(np.maximum(counts, 1), nan=1, posinf=MOST_EDGES)
    if counts.sum() > MOST_EDGES:
        raise KilnError(INTRICATE)
    chords = []
    for count in np.unique(counts).astype(int):
        some = curves[counts == count]
        t = np.linspace(0, 1, count + 1)[:, None]
        weights = [math.comb(degree, k) * t**k * (1 - t) ** (degree - k) for k in range(degree + 1)]
        points = sum(w * some[:, k, None, :] for k, w in enumerate(weights))
        points[:, 0], points[:, -1] = some[:, 0], some[:, -1]
        chords.append(np.concatenate([points[:, :-1], points[:, 1:]], 2).reshape(-1, 4))
    return np.concatenate(chords)
