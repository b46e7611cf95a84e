"""How far a Follow moves a mark, where it tears, and how strong it may be before it does; told at
full size, of large marks on windows from all over them.
"""

import math
from dataclasses import dataclass

import numpy as np

from kilncore.compiled.program import Program
from kilncore.document import Piece
from kilncore.engine.plan import Plan
from kilncore.engine.plans import plan_of
from kilncore.engine.reader import Reader
from kilncore.engine.render import Region, region_box
from kilncore.engine.step_node import StepNode
from kilncore.engine.view import StepView
from kilncore.engine.wholes import prepare
from kilncore.errors import KilnError
from kilncore.geometry.box import Box, tiles_over
from kilncore.geometry.windows import windows
from kilncore.graph.protocols import Assets
from kilncore.measure.folds import first_folds
from kilncore.model.units import px_to_mm
from kilncore.steps.base import Move
from kilncore.system.opencv import cv2

MAY_FOLD = 0.002  # of the mark: fewer pixels are noise, and no tear
MOST_TIMES = 20.0
PIXELS = 4_000_000  # of a view in which tears are looked for
THERE, TYPICAL = 0.5, 0.5
FLAT_PX = 0.05
TILE = (640, 400)
SEEN = 6.0  # how much more a tear smaller than a shown pixel counts


@dataclass(frozen=True)
class Followed:
    """largest_px, typical_px : of the shifts over the mark, document px. torn : the share of the
    mark where the mapping folds over itself, 0..1. times : how many times as strong it may be until
    MAY_FOLD of the mark folds, at most MOST_TIMES. flat : whether the map moves nothing.
    """

    largest_px: float
    typical_px: float
    largest_mm: float
    typical_mm: float
    torn: float
    times: float
    flat: bool


def followed(piece: Piece, step_id: str, assets: Assets) -> Followed | None:
    """What a step that moves does to a mark: how far it shifts it, what is torn, how strong it may
    be.

    Parameters
    ----------
    piece : Piece
        What it is part of.
    step_id : str
        The step.
    assets : Assets
        Where files are.

    Returns
    -------
    Followed or None
        None for a step that is off, or where there is nothing of the mark.

    References
    ----------
    The determinant of I + G at or below zero: docs/engine.md, Steps.
    """
    plan, node = _node(piece, step_id)
    if node is None:
        return None
    box = plan.finished().sources[step_id].whole.intersection(plan.page)
    if box.empty:
        return None
    reader = Reader(assets)
    prepare(node, reader=reader)
    parts = [one for window in windows(box) if (one := _of_window(reader, node, window))]
    if not parts:
        return None
    lengths, times = (np.concatenate([one[n] for one in parts]) for n in (0, 1))
    if not lengths.size:
        return None
    largest, typical = float(lengths.max()), float(np.quantile(lengths, TYPICAL))
    mm, typical_mm = (px_to_mm(one, piece.ppi) for one in (largest, typical))
    spare = float(np.quantile(times, MAY_FOLD, method="lower"))
    torn = float((times <= 1).mean())
    return Followed(
        largest, typical, mm, typical_mm, torn, min(spare, MOST_TIMES), largest < FLAT_PX
    )


def torn_at(
    piece: Piece, step_id: str, region: Region, scale: float, assets: Assets | None
) -> tuple[np.ndarray, np.ndarray]:
    """Where a mark is torn.

    Parameters
    ----------
    piece, step_id, region, scale, assets : object
        As of `followed` and `engine.render`.

    Returns
    -------
    (whole, area)
        Each (H, W) float32: 0 where the mark is torn, and where the mark is at all.

    Raises
    ------
    KilnError
        For a step that is off.
    """
    fine = min(1.0, max(scale, math.sqrt(PIXELS / max(region[2] * region[3], 1))))
    plan, node = _node(piece, step_id, fine)
    if node is None:
        raise KilnError("This step is off: switch it on to see what it tears.")
    box, reader = region_box(piece, region, fine), Reader(assets)
    if box.empty:
        raise KilnError("The region lies outside the piece.", str(region))
    prepare(node, reader=reader)
    out = np.zeros((2, box.height, box.width), np.float32)
    for tile in tiles_over(box, TILE):
        part = tile.intersection(box)
        rows = slice(part.top - box.top, part.bottom - box.top)
        columns = slice(part.left - box.left, part.right - box.left)
        out[:, rows, columns] = _torn_in(reader, node, part)
    wanted = region_box(piece, region, scale)
    torn, area = (_shown(plane, wanted) for plane in out)
    return 1 - np.clip(torn * SEEN, 0, 1), area


def _node(piece: Piece, step_id: str, scale: float = 1.0) -> tuple[Plan, StepNode | None]:
    plan = plan_of(piece, scale)
    node = plan.finished().landings.get(step_id)
    return plan, node if isinstance(node, StepNode) and node.moves else None


def _moves(reader: Reader, node: StepNode, box: Box) -> tuple[np.ndarray, np.ndarray] | None:
    """Shifts in output px, with 1 px around the box; None where nothing moves."""
    view = StepView(reader, node, Program(box), box)
    result = node.kind.run(node.step.params, view)
    move = result[0] if isinstance(result, tuple) else result
    if not isinstance(move, Move) or move.rim < 1:
        return None
    cut = slice(move.rim - 1, -(move.rim - 1) or None)
    strength = node.landing.strength
    dx, dy = (
        (plane[cut, cut] - np.float32(move.still)) * np.float32(times * strength)
        for plane, times in zip((move.dx, move.dy), move.times, strict=True)
    )
    return dx, dy


def _alpha(reader: Reader, node: StepNode, box: Box) -> np.ndarray:
    return reader.read(node.input, box)[3]


def _times(shifts: tuple[np.ndarray, np.ndarray]) -> np.ndarray:
    """How many times as strong until it folds, of every pixel of the box."""
    gradients = []
    for plane in shifts:
        gradients.append((plane[1:-1, 2:] - plane[1:-1, :-2]) / 2)
        gradients.append((plane[2:, 1:-1] - plane[:-2, 1:-1]) / 2)
    return first_folds(tuple(gradients))


def _of_window(reader: Reader, node: StepNode, box: Box):
    """(lengths of the shifts, how many times as strong), of the pixels of the mark."""
    there = _alpha(reader, node, box) > THERE
    if not there.any():
        return None
    shifts = _moves(reader, node, box)
    if shifts is None:
        return np.zeros(there.sum()), np.full(there.sum(), np.inf)
    across, down = (plane[1:-1, 1:-1] for plane in shifts)
    return np.hypot(across, down)[there], _times(shifts)[there]


def _torn_in(reader: Reader, node: StepNode, box: Box) -> np.ndarray:
    """(2, H, W): 1 where it is torn, and the mark's alpha."""
    alpha = _alpha(reader, node, box)
    shifts = _moves(reader, node, box) if alpha.any() else None
    torn = np.zeros_like(alpha) if shifts is None else (_times(shifts) <= 1) * alpha
    return np.stack([torn, alpha])


def _shown(plane: np.ndarray, wanted: Box) -> np.ndarray:
    size = wanted.width, wanted.height
    way = cv2.INTER_AREA if wanted.width < plane.shape[1] else cv2.INTER_NEAREST
    return cv2.resize(plane, size, interpolation=way)
