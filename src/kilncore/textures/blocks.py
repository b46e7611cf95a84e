"""What is sampled by a map, in blocks that lie where the map does.

In a draft, what a step samples is the same wherever the item lies, as long as that is whole px
away: it is kept by the map without its whole px, on a grid that goes along. So a mark that a hand
moves has its textures and its grain sampled once.
"""

import math
from collections.abc import Callable
from functools import partial

import numpy as np

from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import EVERYWHERE, Box, tiles_over
from kilncore.graph.protocols import NodeReader

BLOCK = (512, 128)  # px
SAME = 1e-3  # px: nearer places are the same
FARTHEST = 1e7  # px: what begins farther off has no whole px of its own


def sampled(
    reader: NodeReader,
    program: Program,
    box: Box,
    matrix: tuple[float, ...],
    key: tuple,
    make: Callable[[Box], np.ndarray],
    extent: Box = EVERYWHERE,
) -> tuple[Register, ...]:
    """A register of each plane that `make` gives of a block: (C, H, W) float32.

    matrix : from output px to what is sampled, as `Frame.texture_matrix` gives it. key : all else
    that it depends on. extent : of what is drawn, beyond which nothing is sampled; it moves along.
    """
    place = _place(matrix)
    if place is None or not reader.keeps_blocks or box.intersection(extent).empty:
        return program.load(reader.source((*key, matrix, box), partial(make, box)), box)
    (left, top), rest = place
    told, tiles = (*key, *(round(one, 9) for one in matrix[:4]), *rest), []
    for block in tiles_over(box.moved(-left, -top), BLOCK):
        here = block.moved(left, top).intersection(extent)
        if not here.empty:
            name = (*told, here.moved(-left, -top))
            tiles.append((reader.source(name, partial(make, here)), here))
    return program.load_tiles(tiles)


def _place(matrix: tuple[float, ...]) -> tuple[tuple[int, int], tuple[float, float]] | None:
    """Where the map's beginning lies: (whole px, what is left of a px); None where it has none."""
    a, b, c, d, e, f = matrix
    whole = a * d - b * c
    if not whole:
        return None
    x, y = (c * f - d * e) / whole, (b * e - a * f) / whole
    if not (abs(x) < FARTHEST and abs(y) < FARTHEST):
        return None
    left, top = math.floor(x + SAME), math.floor(y + SAME)
    return (left, top), (round(x - left, 3), round(y - top, 3))
