"""Pictures of a piece.

`render` draws at a scale: what a draft shows, and what fires. `exact` shows the scale-1 pixels
themselves, averaged by area below 100 % and repeated above, so that the screen tells the truth
about the file. `pixels` is either, in bytes; `together` many small ones at once.
"""

import math
from typing import Any

import numpy as np

from kilncore.compiled.program import Program
from kilncore.document import Piece
from kilncore.engine import pool
from kilncore.engine.built import Built
from kilncore.engine.cache_policy import analysed, cached_together
from kilncore.engine.exactly import draw_exact
from kilncore.engine.plan import Plan, Point
from kilncore.engine.plans import plan_of
from kilncore.engine.reader import SHARED_CACHE, Reader
from kilncore.engine.recall import Recall
from kilncore.engine.shown import Looked, still_right
from kilncore.engine.targets import Bytes, Planes
from kilncore.engine.tiling import draw_box
from kilncore.engine.wholes import prepare
from kilncore.errors import KilnError
from kilncore.geometry.box import Box, scaled
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets
from kilncore.pixels.pixel_format import PixelFormats
from kilncore.pixels.planes import from_planes
from kilncore.system.cache import ByteCache

Region = tuple[float, float, float, float]


def render(
    piece: Piece,
    region: Region | None = None,
    scale: float = 1.0,
    assets: Assets | None = None,
    *,
    with_ground: bool = True,
    point: Point | None = None,
    **drawing: Any,
) -> np.ndarray:
    """A picture of a region of the piece, drawn at `scale`.

    Parameters
    ----------
    piece : Piece
        What is drawn.
    region : (x, y, width, height), optional
        In document px, the whole piece by default. It is widened outwards to whole output px and
        cut to the piece.
    scale : float
        Output px per document px.
    assets : Assets, optional
        An AssetStore, for a piece that names files.
    with_ground : bool
        Whether the ground is painted; it counts in every *beneath* all the same.
    point : Point, optional
        The piece only up to there.
    **drawing : object
        Fields of `engine.tiling.Drawing`: where and how it is drawn.

    Returns
    -------
    (H, W, 4) float32 array
        Straight, 0..1, sRGB-encoded.

    Raises
    ------
    KilnError
        For a region or a scale that cannot be drawn.
    MissingAsset
        For a file that is not there.
    Superseded
        When `cancelled` says so.

    References
    ----------
    docs/engine.md, Order and Pixels.
    """
    wanted = _wanted(piece, region, scale)
    node = _built(plan_of(piece, scale), with_ground, point).node
    return _collected(node, piece, wanted, scale, assets, False, drawing)


def exact(
    piece: Piece,
    region: Region | None = None,
    scale: float = 1.0,
    assets: Assets | None = None,
    *,
    with_ground: bool = True,
    point: Point | None = None,
    **drawing: Any,
) -> np.ndarray:
    """The scale-1 pixels, shown at `scale`: averages of premultiplied values below 1, repeated
    above.

    Parameters
    ----------
    piece, region, scale, assets, with_ground, point, **drawing : object
        As of `render`.

    Returns
    -------
    (H, W, 4) float32 array
        Straight.

    Raises
    ------
    KilnError, MissingAsset, Superseded
        As of `render`.

    References
    ----------
    docs/engine.md, Promises.
    """
    wanted = _wanted(piece, region, scale)
    node = _built(plan_of(piece, 1.0), with_ground, point).node
    return _collected(node, piece, wanted, scale, assets, True, drawing)


def render_node(
    node: Node,
    piece: Piece,
    region: Region,
    scale: float,
    assets: Assets | None = None,
    **drawing: Any,
) -> np.ndarray:
    """A straight (H, W, 4) float32 picture of a node of the piece's plan at min(scale, 1), which
    is none of its pictures: a weight, say. As `render`, and above 1 as `exact`."""
    wanted = _wanted(piece, region, scale)
    return _collected(node, piece, wanted, scale, assets, scale > 1, drawing)


def pixels(
    piece: Piece,
    region: Region | None = None,
    scale: float = 1.0,
    assets: Assets | None = None,
    *,
    truly: bool = False,
    with_ground: bool = True,
    point: Point | None = None,
    recall: Recall | None = None,
    moving: bool = True,
    **drawing: Any,
) -> np.ndarray:
    """The same as bytes: of `exact` if `truly`, else of `render`.

    Parameters
    ----------
    piece, region, scale, assets, with_ground, point, **drawing : object
        As of `render`.
    truly : bool
        Scale-1 pixels.
    recall : Recall, optional
        What is measured is remembered there, and a draft takes it from there.
    moving : bool
        Whether a hand moves something: without, a draft takes nothing from the recall.

    Returns
    -------
    (H, W, 3) uint8 array
        Or (H, W, 4), straight, where the picture may be transparent.

    Raises
    ------
    KilnError, MissingAsset, Superseded
        As of `render`.

    References
    ----------
    docs/engine.md, Promises.
    """
    wanted = _wanted(piece, region, scale)
    hasty = recall if moving and not truly else None
    piece = hasty.on_whole_px(piece, scale) if hasty else piece
    looked = Looked(region, scale, point, with_ground)
    plan = (
        Plan(piece, scale, hasty, hasty.shown.plan(looked, assets))
        if hasty
        else plan_of(piece, 1.0 if truly else scale)
    )
    built = looked.built(plan)
    target = Bytes(wanted, channels(built.node, assets))
    known = (
        recall
        and (truly or hasty)
        and still_right(recall.shown, looked, built.node, wanted, truly, assets)
    )
    if known:
        target.put(wanted, known[0])
        drawing["only"] = known[1]
    if not (known and known[1].empty):
        _draw(built.node, piece, wanted, scale, assets, target, truly, drawing)
    if recall:
        recall.note(built)
        if truly:
            recall.rests(piece, plan.layout)
            recall.shown.keep(looked, piece, target.out)
    return target.out


def together(
    pictures: list[tuple[Piece, Point | None]],
    region: Region | None,
    scale: float,
    assets: Assets | None = None,
    cache: ByteCache = SHARED_CACHE,
) -> list[np.ndarray]:
    """Several small pictures of one region, as `pixels` draws them: stages of a treatment, or
    alternatives for one step. What they have in common is drawn once.

    Parameters
    ----------
    pictures : list of (Piece, Point or None)
        Pieces of one size, each up to a point or finished.
    region, scale, assets : object
        As of `render`.
    cache : ByteCache
        Where pictures on the way are kept.

    Returns
    -------
    list of (H, W, 3 or 4) uint8 arrays
        In the same order.

    Raises
    ------
    KilnError, MissingAsset
        As of `render`.

    References
    ----------
    docs/engine.md, Promises.
    """
    wanted = _wanted(pictures[0][0], region, scale)
    nodes = [_built(plan_of(piece, scale), True, point).node for piece, point in pictures]
    targets = [Bytes(wanted, channels(node, assets)) for node in nodes]
    analysis = analysed(*nodes)
    files = Reader(assets, cache, analysis=analysis)
    prepare(*nodes, reader=files)

    def draw(part: Box) -> None:
        reader, program = (
            Reader(
                assets,
                cache,
                kept=cached_together(analysis, part),
                keeps_sources=True,
                tile=None,
                values=files.values,
            ),
            Program(part, skips=False),
        )
        for node, target in zip(nodes, targets, strict=True):
            reader.ready(node, part)
            target.write(program, reader.picture(node, program))
        program.run()

    tall = -(-wanted.height // pool.THREADS)
    parts = [
        Box(wanted.left, top, wanted.right, min(top + tall, wanted.bottom))
        for top in range(wanted.top, wanted.bottom, tall)
    ]
    pool.each(draw, parts, ahead=files.ahead, patience=pool.REST)
    return [target.out for target in targets]


def channels(node: Node, assets: Assets | None) -> int:
    """3 of what covers every pixel whole, else 4."""
    return 3 + PixelFormats(assets).of(node).alpha


def region_box(piece: Piece, region: Region | None, scale: float) -> Box:
    """The output pixels of a region: widened outwards, cut to the piece."""
    page = scaled(0, 0, *piece.size_px, scale)
    return page if region is None else scaled(*region, scale).intersection(page)


def _collected(
    node: Any, piece: Piece, wanted: Box, scale: float, assets: Any, truly: bool, drawing: dict
) -> np.ndarray:
    target = Planes(wanted)
    _draw(node, piece, wanted, scale, assets, target, truly, drawing)
    return from_planes(target.out)


def _draw(
    node: Any,
    piece: Piece,
    wanted: Box,
    scale: float,
    assets: Any,
    target: Bytes | Planes,
    truly: bool,
    drawing: dict,
) -> None:
    """truly : the node is at scale 1, and shown at `scale`; else it is at that scale itself."""
    if truly:
        page = scaled(0, 0, piece.size_px[0], piece.size_px[1], 1.0)
        draw_exact(node, page, wanted, scale, assets, target, **drawing)
    else:
        draw_box(node, wanted, assets, target, **drawing)


def _wanted(piece: Piece, region: Region | None, scale: float) -> Box:
    if not (math.isfinite(scale) and 0.001 <= scale <= 32):
        raise KilnError("A scale must be from 0.001 to 32.", str(scale))
    if region is not None and not all(math.isfinite(n) for n in region):
        raise KilnError("A region must be four numbers.", str(region))
    box = region_box(piece, region, scale)
    if box.empty:
        raise KilnError("The region lies outside the piece.", str(region))
    return box


def _built(plan: Plan, with_ground: bool, point: Point | None) -> Built:
    return plan.up_to(point) if point else plan.finished(with_ground)
