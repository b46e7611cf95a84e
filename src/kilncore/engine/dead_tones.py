"""How much of a mark has tones on which a coat's blend mode can have no effect.

Source: the formulas of W3C Compositing and Blending Level 1. Overlay and soft light give back pure
black and pure white whatever is laid over; multiply, darken and colour burn cannot change black,
screen, lighten and colour dodge not white.
"""

import math

import numpy as np

from kilncore.document import Piece
from kilncore.engine.plans import plan_of
from kilncore.engine.reader import Reader
from kilncore.engine.wholes import prepare
from kilncore.graph.protocols import Assets

DEAD = {
    **dict.fromkeys(("overlay", "soft-light", "color-burn", "color-dodge"), (0.0, 1.0)),
    **dict.fromkeys(("multiply", "darken"), (0.0,)),
    **dict.fromkeys(("screen", "lighten"), (1.0,)),
}
NEAR = 1.5 / 255
PIXELS = 250_000  # of the copy on which it is read
THERE = 0.5  # of alpha


def dead_share(piece: Piece, step_id: str, mode: str, assets: Assets) -> float:
    """The share, 0..1, of what a step treats, on which `mode` can have no effect."""
    dead = DEAD.get(mode)
    if not dead:
        return 0.0
    plan = plan_of(piece, min(1.0, math.sqrt(PIXELS / (piece.size_px[0] * piece.size_px[1]))))
    plan.finished()
    sources = plan.sources.get(step_id)
    if sources is None or sources.whole.empty:
        return 0.0
    box = sources.whole.intersection(plan.page)
    if box.empty:
        return 0.0
    reader = Reader(assets)
    prepare(sources.input, reader=reader)
    found = reader.read(sources.input, box)
    there = found[3] >= THERE
    if not there.any():
        return 0.0
    colours = found[:3, there] / found[3, there]
    lost = np.zeros(colours.shape, bool)
    for tone in dead:
        lost |= np.abs(colours - tone) < NEAR
    return float(lost.all(0).mean())
