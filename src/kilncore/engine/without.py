"""A piece with steps switched off, for looking: one step, or every treatment. It never fires."""

from collections.abc import Callable
from typing import Any

from kilncore.document import Piece, Step


def without_step(piece: Piece, step_id: str) -> Piece:
    """The piece with one step off: a look, never fired.

    Parameters
    ----------
    piece : Piece
        It stays as it is.
    step_id : str
        The step.

    Returns
    -------
    Piece
        The same piece if there is no such step.
    """
    return _changed(piece, lambda step: step.id == step_id)


def without_treatments(piece: Piece) -> Piece:
    """The piece with all steps off: a look, never fired.

    Parameters
    ----------
    piece : Piece
        It stays as it is.

    Returns
    -------
    Piece
        Its bare art on its bare ground.
    """
    return _changed(piece, lambda step: True)


def without_something(piece: Piece, what: str) -> Piece:
    """what : a step's id, or 'treatments' for all of them."""
    return without_treatments(piece) if what == "treatments" else without_step(piece, what)


def _changed(value: Any, off: Callable) -> Any:
    """A copy; whatever holds no such step stays the same object."""
    if isinstance(value, Step):
        return value.model_copy(update={"on": False}) if value.on and off(value) else value
    if isinstance(value, tuple):
        made = tuple(_changed(one, off) for one in value)
        return value if all(a is b for a, b in zip(made, value, strict=True)) else made
    names = [name for name in ("ground", "stack", "members", "treatment") if hasattr(value, name)]
    changed = {name: _changed(getattr(value, name), off) for name in names}
    changed = {name: made for name, made in changed.items() if made is not getattr(value, name)}
    return value.model_copy(update=changed) if changed else value
