"""What a wear leaves of a mark: the share it takes, what is left of the strokes, the largest hole,
the letter or shape that suffers most, and how much of it can still be read when it is small.
"""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from kilncore.document import Group, Mark, Piece
from kilncore.engine.plans import plan_of
from kilncore.engine.reader import Reader
from kilncore.engine.wholes import prepare
from kilncore.geometry.box import Box
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets
from kilncore.measure.stroke_widths import largest_disc
from kilncore.measure.strokes_left import strokes_left
from kilncore.model.units import ordinal, px_to_mm
from kilncore.pixels.reduce import resized
from kilncore.system.opencv import cv2

PIXELS = 6_000_000  # larger marks are read on a copy of so many
LEAST_PART = 0.002  # of the mark: smaller parts are crumbs
MOST_WORD = 24  # characters
SMALL_PX = 64  # height at which it must still be read
THERE = 0.5
LEAST_SEEN_PX = 8.0  # to each side of a place that is shown
Place = tuple[float, float, float, float]


@dataclass(frozen=True)
class Part:
    """A connected part of a mark. name : 'the second L', or 'the third shape'. keeps : the share of
    it that is left, 0..1. place : (x, y, width, height), document px.
    """

    name: str
    keeps: float
    place: Place


@dataclass(frozen=True)
class Worn:
    """taken : share of what the step is given, 0..1. thinnest_mm, thinnest_px : of what is left;
    thinnest_was_mm : of the same stroke before; thinnest_place : where it is.

    hole_mm, hole_px : the largest disc that fits into what is taken, so that the counter of an O is
    no hole; hole_place : where it is.

    worst : the part that keeps least, None of a mark in one part. readable : how like the mark what
    is left of it is at 64 px, 0..1.
    """

    taken: float
    thinnest_mm: float
    thinnest_px: float
    thinnest_was_mm: float
    thinnest_place: Place
    hole_mm: float
    hole_px: float
    hole_place: Place
    worst: Part | None
    parts: int
    readable: float


def worn(piece: Piece, part: str, step_id: str, assets: Assets) -> Worn | None:
    """What a step that takes away has taken of a part.

    Parameters
    ----------
    piece, step_id, assets : object
        As of `engine.followed.followed`.
    part : str
        What it treats.

    Returns
    -------
    Worn or None
        None where there is nothing to read.

    References
    ----------
    docs/wear.md.
    """
    plan = _plan(piece, step_id)
    sources = plan.finished().sources.get(step_id)
    if sources is None:
        return None
    box = sources.whole.intersection(plan.page)
    if box.empty or min(box.width, box.height) < 3:
        return None
    shown = _without_undercoat(piece, part, step_id)
    after = plan_of(shown, plan.scale).finished().landings[step_id]
    before, left = (_alpha(node, box, assets) for node in (sources.input, after))
    if not before.sum():
        return None
    return _read(_Seen(piece, part, box, plan.scale), before, left)


def _plan(piece: Piece, step_id: str):
    """Of the finished pixels, or of a copy where the mark has very many."""
    plan = plan_of(piece, 1.0)
    sources = plan.finished().sources.get(step_id)
    if sources is None:
        return plan
    box = sources.whole.intersection(plan.page)
    return plan_of(piece, min(1.0, math.sqrt(PIXELS / max(box.width * box.height, 1))))


@dataclass(frozen=True)
class _Seen:
    """A part of a piece, over a box at a scale."""

    piece: Piece
    part: str
    box: Box
    scale: float

    def mm(self, px: float) -> float:
        """Of px of this copy."""
        return px_to_mm(px, self.piece.ppi * self.scale)

    def place(self, left: float, top: float, width: float, height: float) -> Place:
        """Of px of this copy, on the piece."""
        x, y = (left + self.box.left) / self.scale, (top + self.box.top) / self.scale
        wide, tall = width / self.scale, height / self.scale
        return round(x, 1), round(y, 1), round(wide, 1), round(tall, 1)

    def around(self, x: float, y: float, far: float) -> Place:
        """So far around a place of this copy, and no less than can be seen."""
        far = max(far, LEAST_SEEN_PX)
        return self.place(x - far, y - far, 2 * far, 2 * far)


def _read(seen: _Seen, before: np.ndarray, left: np.ndarray) -> Worn:
    taken = np.clip(before - left, 0, 1)
    thin, hole = strokes_left(before, left), largest_disc(taken, taken >= THERE)
    worst, parts = _worst(seen, before, left)
    return Worn(
        float(1 - left.sum(dtype=float) / before.sum(dtype=float)),
        seen.mm(thin.width_px) if thin else 0.0,
        thin.width_px / seen.scale if thin else 0.0,
        seen.mm(thin.was_px) if thin else 0.0,
        seen.around(thin.x, thin.y, thin.was_px) if thin else (0, 0, 0, 0),
        seen.mm(hole.width_px),
        hole.width_px / seen.scale,
        seen.around(hole.x, hole.y, hole.width_px),
        worst,
        parts,
        _readable(before, left),
    )


def _without_undercoat(piece: Piece, part: str, step_id: str) -> Piece:
    """The piece with the step taking away what its undercoat shows in."""
    step = next(one for one in piece.treatments()[part] if one.id == step_id)
    if not getattr(step.params, "undercoat", False):
        return piece
    bare = step.model_copy(update={"params": step.params.model_copy(update={"under": "nothing"})})
    return _with_step(piece, bare)


def _with_step(value: Any, step: Any):
    """A copy with the step of that id in its place."""
    if isinstance(value, tuple):
        return tuple(step if one.id == step.id else _with_step(one, step) for one in value)
    names = [name for name in ("stack", "members", "treatment", "ground") if hasattr(value, name)]
    changed = {name: _with_step(getattr(value, name), step) for name in names}
    return value.model_copy(update=changed) if changed else value


def _alpha(node: Node, box: Box, assets: Assets) -> np.ndarray:
    reader = Reader(assets)
    prepare(node, reader=reader)
    return np.ascontiguousarray(reader.read(node, box)[3])


def _worst(seen: _Seen, before: np.ndarray, left: np.ndarray) -> tuple[Part | None, int]:
    """(the connected part that keeps least, how many there are)."""
    count, labels, stats, middles = cv2.connectedComponentsWithStats(
        (before >= THERE).astype(np.uint8), connectivity=8
    )
    had = np.bincount(labels.ravel(), before.ravel(), count)
    has = np.bincount(labels.ravel(), left.ravel(), count)
    parts = [n for n in range(1, count) if had[n] >= LEAST_PART * had[1:].sum()]
    if len(parts) < 2:
        return None, len(parts)
    worst = min(parts, key=lambda n: has[n] / had[n])
    place = seen.place(*(float(one) for one in stats[worst, :4]))
    number = sorted(parts, key=lambda n: middles[n][0]).index(worst) + 1
    name = _letter(seen, place) or f"the {ordinal(number)} shape"
    return Part(name, float(has[worst] / had[worst]), place), len(parts)


def _letter(seen: _Seen, place: Place) -> str:
    """Of words, the letter in whose place a part lies."""
    if seen.part in ("ground", "piece"):
        return ""
    item = seen.piece.item(seen.part)
    for mark in _letterings(item):
        if letter := _letter_of(seen, mark, place):
            return letter if mark is item else f"{letter} of {mark.art.text[:MOST_WORD]}"
    return ""


def _letterings(item: Mark | Group) -> list[Any]:
    """The marks in words of a mark or group."""
    if isinstance(item, Mark):
        return [item] if hasattr(item.art, "letter_at") else []
    return [one for member in item.members for one in _letterings(member)]


def _letter_of(seen: _Seen, mark: Any, place: Place) -> str:
    """Its letter in whose place a part lies; nothing if that lies outside its box."""
    layout = plan_of(seen.piece, seen.scale).layout
    placed, projection = layout.map(mark), layout.projection(mark)
    x, y = place[0] + place[2] / 2, place[1] + place[3] / 2
    if projection:
        x, y = projection.flat_of([(x, y)])[0]
    x, y = placed.inverse.point(float(x), float(y))
    page = seen.piece.ppi, seen.piece.size_px[1]
    width, height = mark.art.box_px(*page)
    if abs(x) > width / 2 or abs(y) > height / 2:
        return ""
    return mark.art.letter_at(x, y, *page)


def _readable(before: np.ndarray, left: np.ndarray) -> float:
    """The correlation of both, made as small as it must be read."""
    scale = min(1.0, SMALL_PX / before.shape[0])
    size = max(2, round(before.shape[1] * scale)), max(2, round(before.shape[0] * scale))
    one, other = (resized(plane[None], *size)[0].ravel() for plane in (before, left))
    if one.std() < 1e-6 or other.std() < 1e-6:
        return 1.0 if np.abs(one - other).max() < 0.05 else 0.0
    return float(np.clip(np.corrcoef(one, other)[0, 1], 0, 1))
