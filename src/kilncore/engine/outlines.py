"""The outline of a mark or group as a region on the piece: what it held stays held when it goes."""

import math

import numpy as np

from kilncore.document import Piece
from kilncore.engine.plans import plan_of
from kilncore.engine.render import render_node
from kilncore.errors import KilnError
from kilncore.graph.protocols import Assets
from kilncore.landing.limits.region import MOST_LOOPS, MOST_POINTS, RegionLimit
from kilncore.model.units import px
from kilncore.system.opencv import cv2

PIXELS = 1_000_000  # of the copy that is followed
FINE = 4  # how much larger its pixels are followed
CLOSE, WIDER = (
    0.3,
    1.5,
)  # px of the copy that a side may be off; how much wider, if that is too fine


def outlined(piece: Piece, item_id: str, assets: Assets) -> RegionLimit:
    """The bare art of a mark or group as a region: where it covers at least half of a pixel.

    What reaches beyond the piece is cut off at its edge. A very rough outline keeps its largest
    loops and is followed less closely, so that it is within what a region may have.

    Parameters
    ----------
    piece : Piece
        What it is part of.
    item_id : str
        A mark or group.
    assets : Assets
        Where files are.

    Returns
    -------
    RegionLimit
        An outline.

    Raises
    ------
    KilnError
        If there is none of it on the piece.
    """
    plan = plan_of(piece, 1.0)
    box = plan.outline_art(item_id).extent.intersection(plan.page)
    if box.empty:
        raise KilnError("There is nothing of this mark on the piece.", item_id)
    scale = min(1.0, math.sqrt(PIXELS / (box.width * box.height)))
    node = plan_of(piece, scale).outline_art(item_id)
    region = (box.left, box.top, box.width, box.height)
    loops = _loops(render_node(node, piece, region, scale, assets)[..., 3])
    if not loops:
        raise KilnError("There is nothing of this mark on the piece.", item_id)
    left, top = math.floor(box.left * scale), math.floor(box.top * scale)
    return _region([(loop + (left, top)) / scale for loop in loops])


def _loops(alpha: np.ndarray) -> list[np.ndarray]:
    """Closed outlines, each (N, 2) in px of the copy."""
    size = alpha.shape[1] * FINE, alpha.shape[0] * FINE
    edged = np.pad(cv2.resize(alpha, size, interpolation=cv2.INTER_LINEAR), FINE)
    covered = (edged >= 0.5).astype(np.uint8)
    contours, _ = cv2.findContours(covered, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    contours = sorted(contours, key=cv2.contourArea, reverse=True)[:MOST_LOOPS]
    close = CLOSE
    while True:
        loops = [cv2.approxPolyDP(one, close * FINE, True)[:, 0] for one in contours]
        loops = [(one + 0.5) / FINE - 1 for one in loops if len(one) > 2]
        if sum(map(len, loops)) <= MOST_POINTS:
            return loops
        close *= WIDER


def _region(loops: list[np.ndarray]) -> RegionLimit:
    points = np.concatenate(loops)
    low, high = points.min(0), points.max(0)
    size = np.maximum(high - low, 1e-3)
    x, y = ((low + high) / 2).tolist()
    lengths = {"x": px(x), "y": px(y), "width": px(float(size[0])), "height": px(float(size[1]))}
    outline = [np.round((loop - low) / size, 5).tolist() for loop in loops]
    return RegionLimit(shape="outline", outline=outline, **lengths)
