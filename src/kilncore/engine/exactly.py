"""The scale-1 pixels of a node as a screen shows them: averaged by area below 100 %, repeated
above.
"""

from typing import Any

import numpy as np

from kilncore.compiled.program import Program
from kilncore.engine import pool
from kilncore.engine.near import crowd_near
from kilncore.engine.tiling import Drawing, reader_of
from kilncore.geometry.box import Box, crop, scaled, tiles_over
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets
from kilncore.pixels.picture import of_planes
from kilncore.pixels.reduce import area_average

BLOCK_PX = 640  # scale-1 pixels, each way, behind one block of a reduced picture


def draw_exact(
    node: Node,
    page: Box,
    wanted: Box,
    scale: float,
    assets: Assets | None,
    target: Any,
    **drawing: Any,
) -> None:
    """Draw a box of output px into a target (see `targets`). What was shown before is shown again
    without drawing it. page : all of the node, at scale 1.
    """
    how = Drawing(**drawing)
    if how.only is not None:
        node = crowd_near(node, _behind(how.only.expanded(1), scale, page), assets)
    reader = reader_of(node, _behind(wanted, scale, page), assets, how)

    def shown(box: Box) -> np.ndarray:
        source = _behind(box, scale, page)
        reader.ready(node, source)
        planes = reader.read(node, source, alone=node.tint is None)
        return (
            _reduced(planes, scale, box, source)
            if scale < 1
            else _repeated(planes, scale, box, source)
        )

    def draw(box: Box) -> None:
        planes = (
            how.cache.get((node.key, "exact", scale, box), lambda: shown(box))
            if how.seen and how.only is None
            else shown(box)
        )
        program = Program(box)
        target.write(program, of_planes(program, planes))
        program.run()

    pool.each(
        draw,
        _blocks(wanted.intersection(how.only or wanted), scale),
        how.threads,
        lambda box: reader.ahead(_behind(box, scale, page)),
        max(how.patience, pool.REST),
    )


def _behind(box: Box, scale: float, page: Box) -> Box:
    """The scale-1 pixels that output pixels show."""
    return scaled(box.left, box.top, box.width, box.height, 1 / scale).intersection(page)


def _blocks(box: Box, scale: float) -> list[Box]:
    """The box cut on a grid of blocks behind each of which about as many scale-1 pixels lie."""
    size = max(16, round(BLOCK_PX * min(scale, 1) / 16) * 16)
    return [tile.intersection(box) for tile in tiles_over(box, (size, size // 2))]


def _reduced(planes: np.ndarray, scale: float, box: Box, source: Box):
    return area_average(
        planes, scale, box.left, box.top, box.width, box.height, source.left, source.top
    )


def _repeated(planes: np.ndarray, scale: float, box: Box, source: Box):
    if scale == 1:
        return crop(planes, source, box)
    columns = np.clip(
        np.floor((np.arange(box.left, box.right) + 0.5) / scale).astype(int) - source.left,
        0,
        source.width - 1,
    )
    rows = np.clip(
        np.floor((np.arange(box.top, box.bottom) + 0.5) / scale).astype(int) - source.top,
        0,
        source.height - 1,
    )
    return planes[:, rows[:, None], columns[None]]
