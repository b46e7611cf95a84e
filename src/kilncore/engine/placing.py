"""Where to put the texture of a wear: heavy at the edges of the mark, clear in its middle."""

from dataclasses import replace
from typing import Any

import numpy as np

from kilncore.document import Piece
from kilncore.engine.plans import plan_of
from kilncore.engine.solved import solved_wear
from kilncore.engine.wholes import value_of
from kilncore.errors import KilnError
from kilncore.graph.protocols import Assets
from kilncore.model.texture import TexturePlacement
from kilncore.model.units import px
from kilncore.pixels.reduce import resized
from kilncore.planes.mark_shape import Shape
from kilncore.solve.placing import Found, best, folded
from kilncore.wear.read import shape_of
from kilncore.wear.settings import WearSettings

CELLS, MOST_POINTS = 512, 120_000
TURNS, FLIPS = (0, 45, 90, 135, 180, 225, 270, 315), (False, True)


def placements(
    piece: Piece, step_id: str, count: int, assets: Assets
) -> list[tuple[TexturePlacement, float]]:
    """Places of a texture that wear a mark where its weight lies, the best first, far apart from
    one another.

    Parameters
    ----------
    piece, step_id, assets : object
        As of `engine.followed.followed`.
    count : int
        How many are looked for.

    Returns
    -------
    list of (TexturePlacement, float)
        Each with how many deviations it is better than a random one.

    Raises
    ------
    KilnError
        For a step that wears nothing.

    References
    ----------
    `kilncore.solve.placing`.
    """
    step = next((one for _, one in piece.steps() if one.id == step_id), None)
    if step is None or not isinstance(step.params, WearSettings) or step.params.texture is None:
        raise KilnError("Only a wear with a texture can be placed.", step_id)
    sources = plan_of(piece, 1.0).finished().sources.get(step_id)
    if sources is None:
        raise KilnError("This step is off: switch it on to place its texture.")
    shape = value_of(shape_of(sources), assets)
    if not shape.edged:
        raise KilnError("There is no mark here to place a texture on.")
    heavy, cell = _heaviness(piece, step, assets)
    x, y, weights = _wanted(shape)
    if sources.frame.laid is not None:
        x, y = sources.frame.laid.flat_of(np.stack([x, y], 1)).T
    ways = [(turn, flip) for turn in TURNS for flip in FLIPS]
    place = step.params.placement
    found = []
    for turn, flip in ways:
        at = _placed(place, turn, flip)
        a, b, c, d, e, f = sources.frame.texture_matrix(at)
        rows, columns = (b * x + d * y + f) / cell[1], (a * x + c * y + e) / cell[0]
        found.append(
            folded(rows + heavy.shape[0] / 2, columns + heavy.shape[1] / 2, weights, heavy.shape)
        )
    return [
        (_there(sources.frame, _placed(place, *ways[one.orientation]), one, cell), one.deviations)
        for one in best(heavy, found, count)
    ]


def _placed(place: TexturePlacement, turn: float, flip: bool) -> TexturePlacement:
    turn = (place.rotation_deg + turn + 180) % 360 - 180
    flips = {"flip_x": place.flip_x != flip}
    return place.model_copy(update={"x": px(0), "y": px(0), "rotation_deg": turn} | flips)


def _heaviness(piece: Piece, step: Any, assets: Assets) -> tuple[np.ndarray, tuple[float, float]]:
    """(how much the texture takes away in each cell, a cell's width and height in texture px)."""
    settings = step.params
    solved = solved_wear(piece, step, assets)
    black, white = (solved.black, solved.white) if solved else (settings.black, settings.white)
    texture = assets.texture(settings.mask_texture).luminance
    width, height = texture.size
    ratio = max(width, height) / CELLS
    toned = texture.toned(max(ratio, 1.0), False, black, 1.0, white)
    size = max(8, round(width / max(ratio, 1))), max(8, round(height / max(ratio, 1)))
    shown = resized(toned.planes[:1] * np.float32(toned.unit), *size)[0]
    return (shown if settings.invert else 1 - shown), (width / size[0], height / size[1])


def _wanted(shape: Shape) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(x, y, weights): places of the mark in document px; above 0 near its edges, below in its
    middle, each adding up to 1.
    """
    deep = shape.deep.astype(np.float32)
    rows, columns = np.nonzero(deep > 0)
    some = np.arange(0, len(rows), max(1, len(rows) // MOST_POINTS))
    rows, columns = rows[some], columns[some]
    inward = np.clip(deep[rows, columns] / shape.typical, 0, 1)
    edge, middle = (1 - inward) ** 2, inward**2
    weights = edge / max(edge.sum(), 1e-9) - middle / max(middle.sum(), 1e-9)
    x, y = columns + shape.cells.left + 0.5, rows + shape.cells.top + 0.5
    return x / shape.scale, y / shape.scale, weights


def _there(frame: Any, place: TexturePlacement, best_shift: Found, cell: tuple) -> TexturePlacement:
    """The placement whose texture lies shifted by the cells that were found."""
    whole = replace(frame, x=0.0, y=0.0, rotation=0.0)
    turned = place.model_copy(update={"rotation_deg": place.rotation_deg})
    a, b, c, d, _, _ = whole.texture_matrix(turned)
    # in the item's own axes u = A (p - d): the shift is undone by moving the texture back
    u, v = best_shift.across * cell[0], best_shift.down * cell[1]
    x, y = np.linalg.solve(np.array([[a, c], [b, d]]), np.array([-u, -v]))
    return place.model_copy(update={"x": px(round(float(x), 1)), "y": px(round(float(y), 1))})
