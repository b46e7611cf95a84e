"""What a match is made by, and what it comes to: the surface under a mark, and the mark's own
edges; how much of a mark a surface comes through.
"""

import math
from typing import Any

import numpy as np

from kilncore.document import Piece
from kilncore.engine.held_back import held_back
from kilncore.engine.plans import plan_of
from kilncore.engine.reader import Reader
from kilncore.engine.step_node import StepNode
from kilncore.engine.wholes import prepare, value_of
from kilncore.geometry.box import NOWHERE, Box
from kilncore.graph.protocols import Assets
from kilncore.measure.edge_softness import SOFTEST, softness
from kilncore.planes.surface_facts import SIDE, Surface

PIXELS = 400_000  # on which shares are read
LEAST_SIDE = 8  # px of a mark that has edges to measure


def surface_of(piece: Piece, step_id: str, assets: Assets) -> Surface | None:
    """What a step that matches measures of the surface beneath.

    Parameters
    ----------
    piece, step_id, assets : object
        As of `engine.followed.followed`.

    Returns
    -------
    Surface or None
        Softness, grain and tones; None for a step that does not match, or is off.
    """
    node, _ = _treated(piece, step_id)
    measured: Any = node and node.planes.get("surface")
    return None if measured is None else value_of(measured, assets)


def slope_of(piece: Piece, step_id: str, assets: Assets) -> tuple[float, float] | None:
    """The least and the most sigma px, of what lies under the mark, that a step varies between;
    None for one that does not vary, or where too little can be measured.
    """
    node, box = _treated(piece, step_id)
    varying: Any = node and node.planes.get("slope")
    slope = None if varying is None else value_of(varying, assets)
    if slope is None or box.empty:
        return None
    sigmas = slope.at(
        np.array([box.left, box.right])[None], np.array([box.top, box.bottom])[:, None]
    )
    return float(sigmas.min()), float(sigmas.max())


def softness_after(piece: Piece, step_id: str, assets: Assets) -> float | None:
    """How soft the edges of a mark are as a step leaves it, at full size.

    Parameters
    ----------
    piece, step_id, assets : object
        As of `engine.followed.followed`.

    Returns
    -------
    float or None
        Sigma px; None where it has no edges, or the step is off.
    """
    node, box = _treated(piece, step_id)
    wide, tall = min(box.width, SIDE), min(box.height, SIDE)
    if node is None or min(wide, tall) < LEAST_SIDE:
        return None
    left, top = box.left + (box.width - wide) // 2, box.top + (box.height - tall) // 2
    reader = Reader(assets)
    prepare(node, reader=reader)
    sigma = softness(reader.read(node, Box(left, top, left + wide, top + tall))[3])
    return None if sigma >= SOFTEST else sigma


def share_through(piece: Piece, part: str, step_id: str, assets: Assets) -> float | None:
    """The share of a mark that what a step lays on it covers: the weight of its landing and its
    strength, at most 1, over the mark.

    Parameters
    ----------
    piece, step_id, assets : object
        As of `engine.followed.followed`.
    part : str
        What it treats.

    Returns
    -------
    float or None
        0..1; None where there is nothing of it.
    """
    node, box = _treated(piece, step_id)
    if node is None or box.empty:
        return None
    scale = min(1.0, math.sqrt(PIXELS / (box.width * box.height)))
    region = (box.left, box.top, box.width, box.height)
    weight, area = held_back(piece, part, step_id, region, scale, assets, whole=True)
    if not area.sum():
        return None
    strength = min(node.landing.strength, 1.0)
    return float(np.clip((weight * area).sum() / area.sum() * strength, 0, 1))


def _treated(piece: Piece, step_id: str) -> tuple[StepNode | None, Box]:
    """(a step, where on the piece it treats), at full size; (None, nowhere) if it is off."""
    plan = plan_of(piece, 1.0)
    node = plan.finished().landings.get(step_id)
    if not isinstance(node, StepNode):
        return None, NOWHERE
    return node, node.input.extent.intersection(plan.page)
