"""The tones that a blend range reads, of exactly the pixels concerned: those of the mark's area, at
full size, on windows from all over it.
"""

from dataclasses import replace
from typing import Any

import numpy as np

from kilncore.compiled.program import Program
from kilncore.document import Piece, sort_of
from kilncore.engine.plan import Plan
from kilncore.engine.plans import plan_of
from kilncore.engine.reader import Reader
from kilncore.engine.weights import read
from kilncore.engine.wholes import prepare
from kilncore.errors import KilnError
from kilncore.geometry.box import Box, pixel_at
from kilncore.geometry.windows import windows
from kilncore.graph.node import Node, Nothing
from kilncore.graph.protocols import Assets
from kilncore.graph.sources import Sources
from kilncore.landing import Landing
from kilncore.landing.model import READS

BINS = 256
OWN, INPUT, BENEATH = "own", "input", "beneath"


def range_tones(
    piece: Piece, part: str, step_id: str | None, of: str, reads: str, assets: Assets
) -> np.ndarray:
    """How much of the area that a blend range reads has each tone.

    Parameters
    ----------
    piece : Piece
        Read at full size, or at two megapixels if it is larger.
    part : str
        A mark or group, 'ground' or 'piece'.
    step_id : str or None
        Whose landing it is; None for how a mark or group lands.
    of : str
        'own', 'input' or 'beneath'.
    reads : str
        As a blend range has it: luminance, a channel, lightness or saturation.
    assets : Assets
        Where files are.

    Returns
    -------
    (256,) float array
        From tone 0 to 1, adding up to 1; zeros where there is nothing.

    Raises
    ------
    KilnError
        For a step that is off, or a part that lands nowhere.
    """
    node, area, plan = _whose(piece, part, step_id, of, reads)
    box = area.extent.intersection(plan.page)
    counts = np.zeros(BINS)
    if box.empty or isinstance(node, Nothing):
        return counts
    reader = Reader(assets)
    prepare(node, area, reader=reader)
    for window in windows(box):
        counts += _counted(reader, node, area, reads, window)
    return counts / max(counts.sum(), 1e-9)


def tone_at(
    piece: Piece,
    part: str,
    step_id: str | None,
    of: str,
    reads: str,
    place: tuple[float, float],
    assets: Assets,
) -> float | None:
    """The tone that a blend range reads at a place.

    Parameters
    ----------
    piece, part, step_id, of, reads, assets : object
        As of `range_tones`.
    place : (x, y)
        In document px.

    Returns
    -------
    float or None
        0..1; None where there is nothing.

    Raises
    ------
    KilnError
        As of `range_tones`.
    """
    node, _, plan = _whose(piece, part, step_id, of, reads)
    box = pixel_at(*place).intersection(plan.page)
    if box.empty or isinstance(node, Nothing):
        return None
    reader, program = Reader(assets), Program(box)
    prepare(node, reader=reader)
    picture = reader.picture(node, program)
    if picture is None:
        return None
    alpha = program.constant(1) if picture.alpha is None else picture.alpha
    tone, alpha = program.planes((read(picture, reads), alpha))
    program.run()
    return float(np.clip(tone, 0, 1).item()) if alpha.item() > 0 else None


def _whose(
    piece: Piece, part: str, step_id: str | None, of: str, reads: str
) -> tuple[Node, Node, Plan]:
    """(whose tones, the area, the plan); KilnError for what cannot be read."""
    if of not in (OWN, INPUT, BENEATH):
        raise KilnError("A blend range reads own, input or beneath.", str(of)[:40])
    if reads not in dict(READS):
        raise KilnError(f"A blend range reads one of: {', '.join(dict(READS))}.", str(reads)[:40])
    plan = plan_of(piece, 1.0)
    node, area = _step(plan, step_id, of) if step_id else _item(plan, part, of)
    return node, area, plan


def _step(plan: Plan, step_id: str, of: str) -> tuple[Node, Node]:
    """(whose tones, the area) of a step's landing."""
    built = plan.finished()
    sources = built.sources.get(step_id)
    if sources is None:
        raise KilnError("This step is off: switch it on to see its tones.")
    if of == BENEATH:
        return sources.beneath, sources.input
    if of == INPUT:
        return sources.input, sources.input
    return _alone(built.landings[step_id], sources), sources.input


def _alone(node: Any, sources: Sources) -> Node:
    """What a step lands, and nothing of its input."""
    step = node.step.model_copy(update={"landing": Landing()})
    return replace(node, step=step, planes=node.kind.planes(step.params, sources))


def _item(plan: Plan, part: str, of: str) -> tuple[Node, Node]:
    """The same of how a mark or group lands."""
    if sort_of(part) != "mark":
        raise KilnError("Only marks and groups land.", part)
    node = plan.item(part).node
    return (node if of == OWN else plan.beneath(part).node), node


def _counted(reader: Reader, node: Node, area: Node, reads: str, window: Box) -> np.ndarray:
    program = Program(window)
    picture, place = reader.picture(node, program), reader.picture(area, program)
    if picture is None or place is None:
        return np.zeros(BINS)
    one = program.constant(1)
    rows = (read(picture, reads), one if place.alpha is None else place.alpha)
    tones, weights = program.planes(rows)
    program.run()
    at = np.rint(np.clip(tones, 0, 1) * (BINS - 1)).astype(np.int64)
    return np.bincount(at.ravel(), weights.ravel(), BINS)
