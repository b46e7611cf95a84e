"""The versions of a piece that can be looked at side by side: as it is, a step before, as it was
when an aim was last solved, and those that are pinned.
"""

from dataclasses import dataclass

from kilncore.errors import KilnError
from kilnmark.pieces.models import Piece, State

FARTHEST_BACK = 80  # states


@dataclass(frozen=True)
class Version:
    name: str
    state: int
    role: str = ""


def versions_of(piece: Piece, step: str = "") -> list[Version]:
    """step : of a wear that may hold points from before words or art were changed."""
    found = [Version("As it is", piece.head_id, "now")]
    solved = last_solved(piece, step) if step else None
    if solved is not None:
        found.append(Version("Before the words or art changed", solved.pk, "solved"))
    if piece.head.parent_id:
        label = piece.head.label[:60]
        found.append(Version(f"Before: {label}", piece.head.parent_id, "before"))
    pins = piece.pins.here().select_related("state")
    return found + [Version(pin.name, pin.state_id, "pin") for pin in pins]


def last_solved(piece: Piece, step: str) -> State | None:
    """The newest earlier state in which the points of a wear were solved and not held; None if they
    are solved now."""
    state = piece.head
    if not _holds(state, step):
        return None
    for _ in range(FARTHEST_BACK):
        state = state.parent
        if state is None:
            return None
        if not _holds(state, step):
            return state
    return None


def _holds(state: State, step: str) -> bool:
    try:
        steps = {one.id: one for _, one in state.document.steps()}
    except KilnError:
        return False
    return getattr(steps.get(step) and steps[step].params, "held", None) is not None
