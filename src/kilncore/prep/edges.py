"""The edge of a cut-out: grown or shrunk, and feathered.

Worked in blocks with as much around them as the edge can move: memory stays that of a block, and
blocks without an edge cost nothing. What comes to light beyond the old edge has the colours of the
art near by.
"""

import numpy as np

from kilncore.geometry.box import Box, tiles_over
from kilncore.pixels.distance import signed_distance
from kilncore.system.opencv import cv2

BLOCK = 1024
SOLID = 0.99  # of alpha: such pixels keep their own colour
REACH_SIGMAS = 3


def moved(
    alpha: np.ndarray, colours: np.ndarray, grow: float, feather: float
) -> tuple[np.ndarray, np.ndarray]:
    """(alpha, colours) after the edge was moved outwards by `grow` px, inwards if below 0, and
    blurred by a Gaussian of sigma `feather` / 2 px.

    alpha : (H, W) uint8 or uint16. colours : (3, H, W) of the same type, straight.
    """
    if not grow and not feather:
        return alpha, colours
    height, width = alpha.shape
    reach = int(np.ceil(abs(grow) + REACH_SIGMAS * feather / 2)) + 2
    shares, painted = alpha.copy(), colours.copy()
    for block in tiles_over(Box(0, 0, width, height), (BLOCK, BLOCK)):
        block = block.intersection(Box(0, 0, width, height))
        around = block.expanded(reach).intersection(Box(0, 0, width, height))
        here = alpha[around.top : around.bottom, around.left : around.right]
        if here.min() != here.max():
            part = (
                slice(block.top - around.top, block.bottom - around.top),
                slice(block.left - around.left, block.right - around.left),
            )
            rows, columns = slice(block.top, block.bottom), slice(block.left, block.right)
            near = colours[:, around.top : around.bottom, around.left : around.right]
            edge, paint = _moved(here, near, grow, feather, reach)
            shares[rows, columns], painted[:, rows, columns] = edge[part], paint[:, *part]
    return shares, painted


def _moved(alpha: np.ndarray, colours: np.ndarray, grow: float, feather: float, reach: int):
    full = np.iinfo(alpha.dtype).max
    share = alpha / np.float32(full)
    edge: np.ndarray = share
    if grow:
        away = signed_distance(share, abs(grow) + 2)
        edge = np.clip(away + np.float32(grow + 0.5), 0, 1)
    if feather:
        edge = cv2.GaussianBlur(edge, (0, 0), feather / 2, borderType=cv2.BORDER_REPLICATE)
    paint = colours
    if grow > 0 or feather:
        paint = _extended(share, colours, reach)
    return np.rint(np.clip(edge, 0, 1) * full).astype(alpha.dtype), paint


def _extended(share: np.ndarray, colours: np.ndarray, reach: int):
    """The colours, and beyond the art those of the art near by: means of it weighted by alpha."""
    size = (2 * reach + 1, 2 * reach + 1)
    weight = cv2.blur(share, size)
    inverse = 1 / np.maximum(weight, 1e-6)
    keeps = share >= SOLID
    return np.stack(
        [
            np.where(keeps, plane, np.rint(cv2.blur(plane * share, size) * inverse))
            if not keeps.all()
            else plane
            for plane in colours
        ]
    ).astype(colours.dtype)
