"""The flat colours of what a colour limit reads: the bare art of a part, in their proportions; and
the colour of it at a place.
"""

import math

import numpy as np

from kilncore.document import Piece
from kilncore.engine.plan import Plan, Point
from kilncore.engine.plans import plan_of
from kilncore.engine.reader import Reader
from kilncore.engine.render import render_node
from kilncore.engine.wholes import prepare
from kilncore.errors import KilnError
from kilncore.geometry.box import EVERYWHERE, pixel_at
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets
from kilncore.measure.flat_colours import flat_colours
from kilncore.pixels.colour import rgb_to_hex

PIXELS = 400_000  # on which colours are counted
COVERED = 0.5  # of alpha


def art_colours(piece: Piece, part: str, assets: Assets, most: int = 12) -> list[tuple[str, float]]:
    """The colours of the bare art of a part, the largest first.

    Parameters
    ----------
    piece : Piece
        What it is part of.
    part : str
        A mark or group, 'ground' or 'piece'.
    assets : Assets
        Where files are.
    most : int
        How many at most.

    Returns
    -------
    list of (str, float)
        ('#rrggbb', share), shares adding up to 1; empty where there is no art.

    References
    ----------
    `measure.flat_colours`.
    """
    full = plan_of(piece, 1.0)
    box = _bare(full, part).extent
    box = full.page if box == EVERYWHERE else box.intersection(full.page)
    if box.empty:
        return []
    scale = min(1.0, math.sqrt(PIXELS / (box.width * box.height)))
    node = _bare(plan_of(piece, scale), part)
    region = (box.left, box.top, box.width, box.height)
    return flat_colours(render_node(node, piece, region, scale, assets), most)


def art_colour_at(
    piece: Piece, part: str, place: tuple[float, float], assets: Assets
) -> str | None:
    """The colour of the bare art at a place.

    Parameters
    ----------
    piece, part, assets : object
        As of `art_colours`.
    place : (x, y)
        In document px.

    Returns
    -------
    str or None
        '#rrggbb'; None where there is no art.
    """
    plan = plan_of(piece, 1.0)
    node = _bare(plan, part)
    box = pixel_at(*place).intersection(plan.page)
    if box.empty or node.extent.intersection(box).empty:
        return None
    reader = Reader(assets)
    prepare(node, reader=reader)
    red, green, blue, alpha = np.asarray(reader.read(node, box), float)[:, 0, 0]
    if alpha < COVERED:
        return None
    return rgb_to_hex([min(max(one / alpha, 0.0), 1.0) for one in (red, green, blue)])


def _bare(plan: Plan, part: str) -> Node:
    """What the colour limits of a part's steps read, unmoved."""
    if part == "ground":
        return plan.ground(0).node
    if part == "piece":
        return plan.up_to(Point("piece", 0)).node
    if part not in plan.piece.treatments():
        raise KilnError("There is no such mark on this piece.", part)
    return plan.bare(part).node
