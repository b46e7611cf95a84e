"""How much of a mark has tones on which a coat's blend mode can have no effect.

Source: the formulas of W3C Compositing and Blending Level 1. Overlay and soft light give back pure
black and pure white whatever is laid over; multiply, darken and colour burn cannot change black,
screen, lighten and colour dodge not white.
"""

import math

import numpy as np

from kilncore.blend import composite
from kilncore.document import Piece
from kilncore.engine.plans import plan_of
from kilncore.engine.reader import Reader
from kilncore.engine.wholes import prepare
from kilncore.graph.protocols import Assets
from kilncore.prep.texture_ref import TextureRef

DEAD = {
    **dict.fromkeys(("overlay", "soft-light", "color-burn", "color-dodge"), (0.0, 1.0)),
    **dict.fromkeys(("multiply", "darken"), (0.0,)),
    **dict.fromkeys(("screen", "lighten"), (1.0,)),
}
VISIBLE = 4 / 255  # spread that a coat must leave on a tone to be seen there
MOST_LIFTED = 0.3
NEAR = 1.5 / 255
PIXELS = 250_000  # of the copy on which it is read
THERE = 0.5  # of alpha


def dead_share(piece: Piece, step_id: str, mode: str, assets: Assets) -> float:
    """The share, 0..1, of what a step treats, on which `mode` can have no effect."""
    dead = DEAD.get(mode)
    if not dead:
        return 0.0
    plan = plan_of(piece, min(1.0, math.sqrt(PIXELS / (piece.size_px[0] * piece.size_px[1]))))
    sources = plan.finished().sources.get(step_id)
    if sources is None or sources.whole.empty:
        return 0.0
    box = sources.whole.intersection(plan.page)
    if box.empty:
        return 0.0
    reader = Reader(assets)
    prepare(sources.input, reader=reader)
    planes = reader.read(sources.input, box)
    there = planes[3] >= THERE
    if not there.any():
        return 0.0
    colours = planes[:3, there] / planes[3, there]
    lost = np.zeros(colours.shape, bool)
    for tone in dead:
        lost |= np.abs(colours - tone) < NEAR
    return float(lost.all(0).mean())


def least_lift(mode: str, tone: float, ref: TextureRef, strength: float, assets: Assets) -> float:
    """How far a dead tone, 0 or 1, has to be moved inwards for a texture to show on it, 0..0.3: by
    as little as leaves a spread that is seen.
    """
    mask = assets.texture(ref).luminance
    sample = mask.level(0)[0][:: max(mask.size[1] // 60, 1), :: max(mask.size[0] // 60, 1)]
    coat = np.ones((*sample.shape, 4), np.float32)
    coat[..., :3] = (sample * np.float32(mask.unit))[..., None]
    for moved in np.arange(0.01, MOST_LIFTED, 0.01):
        base = np.ones_like(coat)
        base[..., :3] = abs(tone - moved)
        shown = composite(base, coat, mode, min(strength, 1.0))
        if shown[..., 0].std() >= VISIBLE:
            return float(round(moved, 2))
    return MOST_LIFTED
