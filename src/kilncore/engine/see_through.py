"""Art and texture seen together, while a texture is being placed. It is a look, and never fires."""

import math
from typing import Any

from kilncore.document import Group, Mark, Piece, Step, sort_of
from kilncore.layout.layout import Layout
from kilncore.model.frame import Frame
from kilncore.model.texture import TexturePlacement
from kilncore.model.units import px
from kilncore.steps import STEPS

SHARE = 0.5  # of the texture over the art


def see_through(piece: Piece, step_id: str) -> Piece:
    """The piece with the texture of a step laid over the mark that it treats, halfway: a look,
    never fired.

    Parameters
    ----------
    piece : Piece
        It stays as it is.
    step_id : str
        A step with a texture.

    Returns
    -------
    Piece
        The same piece if the step has none.
    """
    for part, step in piece.steps():
        if step.id == step_id and getattr(step.params, "texture", None) is not None:
            return _with_last(piece, part, _laid(piece, part, step))
    return piece


def _laid(piece: Piece, part: str, step: Step) -> Step:
    worn: Any = step.params
    placement = worn.placement
    if STEPS.named(step.kind).on_ground(step.params) and sort_of(part) == "mark":
        layout = Layout(piece)
        placement = _from(layout.page_frame, layout.frame(piece.item(part)), placement)
    params = {"texture": worn.texture, "placement": placement, "keep_to_art": False}
    landing = {"mode": "normal", "strength": SHARE}
    named = {"id": "see-through", "kind": "coat", "seed": 0}
    return Step.model_validate(named | {"params": params, "landing": landing})


def _from(frame: Frame, other: Frame, place: TexturePlacement) -> TexturePlacement:
    """The same place of a texture, told in another frame."""
    x, y = _turned(frame.length(place.x), frame.length(place.y), frame.rotation)
    x, y = frame.x + x, frame.y + y
    if other.projection:
        x, y = (float(n) for n in other.projection.flat_of([(x, y)])[0])
    x, y = _turned(x - other.x, y - other.y, -other.rotation)
    turn = place.rotation_deg + math.degrees(frame.rotation - other.rotation)
    turn = (turn + 180) % 360 - 180
    return place.model_copy(update={"x": px(x), "y": px(y), "rotation_deg": turn})


def _turned(x: float, y: float, angle: float) -> tuple[float, float]:
    cos, sin = math.cos(angle), math.sin(angle)
    return cos * x - sin * y, sin * x + cos * y


def _with_last(piece: Piece, part: str, step: Step) -> Piece:
    if part == "piece":
        return piece.model_copy(update={"treatment": (*piece.treatment, step)})
    if part == "ground":
        ground = piece.ground
        more = {"treatment": (*ground.treatment, step)}
        return piece.model_copy(update={"ground": ground.model_copy(update=more)})
    return piece.model_copy(update={"stack": _stacked(piece.stack, part, step)})


def _stacked(items: tuple, part: str, step: Step) -> tuple:
    return tuple(_item(item, part, step) for item in items)


def _item(item: Mark | Group, part: str, step: Step) -> Mark | Group:
    if item.id == part:
        return item.model_copy(update={"treatment": (*item.treatment, step)})
    if isinstance(item, Group):
        return item.model_copy(update={"members": _stacked(item.members, part, step)})
    return item
