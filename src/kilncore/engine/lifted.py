"""Marks lifted off their piece: what lies beneath them, and what they show over it, as a cut-out
that can be moved at once while a draft is drawn.
"""

from typing import Any

import numpy as np

from kilncore.document import Group, Mark, Piece
from kilncore.engine.draft_textures import with_draft_textures
from kilncore.engine.plans import plan_of
from kilncore.engine.recall import Recall
from kilncore.engine.render import Region, pixels, render_node
from kilncore.errors import KilnError
from kilncore.graph.protocols import Assets

LEAST = 1 / 255  # of alpha: what is fainter is not seen


def lifted(
    piece: Piece,
    marks: list[str],
    region: Region,
    scale: float,
    assets: Assets,
    recall: Recall,
    **drawing: Any,
) -> tuple[np.ndarray, np.ndarray]:
    """Marks or groups as a cut-out of their own.

    Laid over what lies beneath, the cut-out shows the piece as it is, whatever mode the marks land
    by and whatever lies over them: its colours are worked out from both pictures. Moved, it still
    has the colours of where it was.

    Parameters
    ----------
    piece : Piece
        As it is shown.
    marks : list of str
        Their ids.
    region, scale, assets : object
        As of `engine.pixels`.
    recall : Recall
        What was shown and measured before.
    **drawing : object
        As of `engine.pixels`.

    Returns
    -------
    (beneath, cut_out)
        (H, W, 3) uint8, or (H, W, 4) straight where the piece may be transparent; (H, W, 4) uint8
        straight.

    Raises
    ------
    KilnError
        For marks that are not on the piece, or are left out.
    MissingAsset, Superseded
        As of `engine.pixels`.
    """
    truly = scale > 1  # as the stage shows it
    draft = piece if truly else with_draft_textures(piece, assets)
    how = {"recall": None if truly else recall, "truly": truly, **drawing}
    shown = pixels(draft, region, scale, assets, **how)
    beneath = pixels(_left_out(draft, set(marks)), region, scale, assets, **how)
    solid = 1 - np.prod(
        [1 - _alpha(draft, mark, region, scale, assets, drawing) for mark in marks], axis=0
    )
    return beneath, _cut_out(_premultiplied(shown), _premultiplied(beneath), solid)


def _alpha(
    piece: Piece, mark: str, region: Region, scale: float, assets: Assets, drawing: dict
) -> np.ndarray:
    """(H, W): how solid a mark is, as it lies in the finished piece."""
    plan = plan_of(piece, min(scale, 1.0))
    if plan.piece.item(mark).left_out:
        raise KilnError("This mark is left out: there is nothing of it to move.", mark)
    return render_node(plan.fired_alone(mark).node, piece, region, scale, assets, **drawing)[..., 3]


def _left_out(value: Any, marks: set[str]) -> Any:
    """A piece or group without them; whatever holds none stays the same object."""
    name = "stack" if isinstance(value, Piece) else "members"
    made = tuple(_without(one, marks) for one in getattr(value, name))
    same = all(a is b for a, b in zip(made, getattr(value, name), strict=True))
    return value if same else value.model_copy(update={name: made})


def _without(item: Mark | Group, marks: set[str]) -> Mark | Group:
    if item.id in marks:
        return item.model_copy(update={"left_out": True})
    return _left_out(item, marks) if isinstance(item, Group) else item


def _premultiplied(picture: np.ndarray) -> np.ndarray:
    """(H, W, 4) float32, 0..1."""
    out = np.ones((*picture.shape[:2], 4), np.float32)
    out[..., : picture.shape[2]] = picture / np.float32(255)
    out[..., :3] *= out[..., 3:]
    return out


def _cut_out(shown: np.ndarray, beneath: np.ndarray, solid: np.ndarray) -> np.ndarray:
    """What over `beneath` gives `shown`, as solid as that."""
    left = shown - beneath * (1 - solid[..., None])
    colours = left[..., :3] / np.maximum(solid[..., None], LEAST)
    there = np.where(solid < LEAST, 0, solid)
    straight = np.concatenate([colours, there[..., None]], 2)
    return np.rint(np.clip(straight, 0, 1) * 255).astype(np.uint8)
