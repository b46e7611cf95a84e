"""How much of a mark, a group or the page a texture with an end does not cover."""

import math

import numpy as np

from kilncore.document import Piece
from kilncore.engine.plan import Plan
from kilncore.engine.reader import Reader
from kilncore.geometry.box import Box
from kilncore.graph.protocols import Assets
from kilncore.model.texture import TexturePlacement
from kilncore.perspective.projection import Projection

PIXELS = 40_000  # of the copy on which it is read


def not_covered(
    piece: Piece,
    part: str,
    placement: TexturePlacement,
    size: tuple[int, int],
    assets: Assets,
) -> float:
    """The share, 0..1, of the art of a part ('ground' and 'piece' are the whole page) that lies
    beyond a texture of size (width, height) px, as placed on it.
    """
    whole = part in ("ground", "piece")
    extent = Plan(piece, 1.0).page if whole else Plan(piece, 1.0).extent(part)
    scale = min(1.0, math.sqrt(PIXELS / max(extent.width * extent.height, 1)))
    plan = Plan(piece, scale)
    frame = plan.page_frame if whole else plan.frame(piece.item(part))
    box = plan.page if whole else plan.extent(part)
    if box.empty:
        return 0.0
    inside = _inside(frame.texture_matrix(placement), size, _places(frame.laid, box))
    if whole:
        return float(1 - inside.mean())
    node = plan.alone(part).node
    alpha = Reader(assets).read(node, box)[3]
    return float((alpha * ~inside).sum() / max(alpha.sum(), 1e-6))


def _places(laid: Projection | None, box: Box) -> tuple[np.ndarray, np.ndarray]:
    """(x, y) of the middle of each pixel, as it would lie flat."""
    if laid is not None:
        return tuple(laid.flat(box)[:2])
    x = np.arange(box.left, box.right) + 0.5
    return x, (np.arange(box.top, box.bottom) + 0.5)[:, None]


def _inside(matrix: tuple[float, ...], size: tuple[int, int], places: tuple) -> np.ndarray:
    """(H, W) bool: whether a place lies on the texture."""
    a, b, c, d, e, f = matrix
    x, y = places
    u, v = a * x + c * y + e, b * x + d * y + f
    return (np.abs(u) <= size[0] / 2) & (np.abs(v) <= size[1] / 2)
