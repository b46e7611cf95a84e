"""What a wear leaves of a mark: the share it takes, the thinnest stroke, the largest hole, the part
that suffers most, and how much of it can still be read when it is small.
"""

import math
from dataclasses import dataclass

import numpy as np

from kilncore.document import Piece
from kilncore.engine.plans import plan_of
from kilncore.engine.reader import Reader
from kilncore.engine.wholes import prepare
from kilncore.geometry.box import Box
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets
from kilncore.measure.stroke_widths import strokes
from kilncore.pixels.reduce import resized
from kilncore.system.opencv import cv2

PIXELS = 4_000_000  # larger marks are read on a copy of so many
LEAST_PART = 0.002  # of the mark: smaller parts are crumbs
SMALL_PX = 64  # height at which it must still be read
THERE = 0.5


@dataclass(frozen=True)
class Worn:
    """taken : share of what the step is given, 0..1. thinnest_mm, hole_mm : of what is left; px
    likewise. thinnest_was_mm : before.

    worst : number of the part that keeps least, from the left, of `parts`, and the share it keeps.
    readable : how like the mark what is left of it is at 64 px, 0..1.
    """

    taken: float
    thinnest_mm: float
    thinnest_px: float
    thinnest_was_mm: float
    hole_mm: float
    hole_px: float
    worst: int
    parts: int
    keeps: float
    readable: float


def worn(piece: Piece, part: str, step_id: str, assets: Assets) -> Worn | None:
    """Of a step that takes away; None where there is nothing to read."""
    area = piece.size_px[0] * piece.size_px[1]
    plan = plan_of(piece, min(1.0, math.sqrt(PIXELS / area)))
    plan.finished()
    sources = plan.sources.get(step_id)
    if sources is None:
        return None
    box = sources.whole.intersection(plan.page)
    if box.empty or min(box.width, box.height) < 3:
        return None
    treatment = piece.treatments()[part]
    place = [one.id for one in treatment].index(step_id)
    after = _after(plan, piece, part, place + 1, sources)
    before, left = (_alpha(node, box, assets) for node in (sources.input, after))
    if not before.sum():
        return None
    ppi = piece.ppi * plan.scale
    was, now = strokes(before, ppi), strokes(left, ppi)
    worst, parts, keeps = _worst(before, left)
    return Worn(
        float(1 - left.sum(dtype=float) / before.sum(dtype=float)),
        now["thinnest_mm"],
        now["thinnest_px"] / plan.scale,
        was["thinnest_mm"],
        now["largest_hole_mm"],
        now["largest_hole_px"] / plan.scale,
        worst,
        parts,
        keeps,
        _readable(before, left),
    )


def _after(plan, piece: Piece, part: str, steps: int, sources) -> Node:
    if part == "ground":
        return plan.ground(steps)
    if part == "piece":
        frame, treatment = plan.page_frame, piece.treatment[:steps]
        return plan.treated(sources.input, treatment[-1:], frame, sources.beneath)
    return plan.item(piece.item(part), sources.beneath, steps)


def _alpha(node: Node, box: Box, assets: Assets) -> np.ndarray:
    reader = Reader(assets)
    prepare(node, reader=reader)
    return np.ascontiguousarray(reader.read(node, box)[3])


def _worst(before: np.ndarray, left: np.ndarray) -> tuple[int, int, float]:
    """(number from the left, how many, share that it keeps) of the connected part that keeps
    least.
    """
    count, labels, stats, middles = cv2.connectedComponentsWithStats(
        (before >= THERE).astype(np.uint8), connectivity=8
    )
    had = np.bincount(labels.ravel(), before.ravel(), count)
    has = np.bincount(labels.ravel(), left.ravel(), count)
    parts = [n for n in range(1, count) if had[n] >= LEAST_PART * had[1:].sum()]
    if not parts:
        return 0, 0, 1.0
    parts.sort(key=lambda n: middles[n][0])
    shares = [has[n] / had[n] for n in parts]
    at = int(np.argmin(shares))
    return at + 1, len(parts), float(shares[at])


def _readable(before: np.ndarray, left: np.ndarray) -> float:
    """The correlation of both, made as small as it must be read."""
    scale = min(1.0, SMALL_PX / before.shape[0])
    size = max(2, round(before.shape[1] * scale)), max(2, round(before.shape[0] * scale))
    one, other = (resized(plane[None], *size)[0].ravel() for plane in (before, left))
    if one.std() < 1e-6 or other.std() < 1e-6:
        return 1.0 if np.abs(one - other).max() < 0.05 else 0.0
    return float(np.clip(np.corrcoef(one, other)[0, 1], 0, 1))
