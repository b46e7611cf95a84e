"""The versions of a piece that can be looked at side by side: as it is, a step before, as it was
when an aim was last solved, its directions, and those that are pinned.
"""

from dataclasses import dataclass

from kilncore.errors import KilnError
from kilncore.measure.difference import Difference
from kilnmark.pieces.models import Piece, State

FARTHEST_BACK = 80  # states


@dataclass(frozen=True)
class Version:
    """without : a step that is off in it, or 'treatments'. same : whether it looks as the piece is
    now.
    """

    name: str
    state: int
    role: str = ""
    without: str = ""
    same: bool = False


def versions_of(piece: Piece, step: str = "") -> list[Version]:
    """step : the one that is chosen; a wear may hold points from before words or art were
    changed."""
    found = [Version("As it is", piece.head_id, "now", same=True)]
    solved = last_solved(piece, step) if step else None
    if solved is not None:
        found.append(Version("Before the words or art changed", solved.pk, "solved"))
    if piece.head.parent_id:
        label = piece.head.label[:60]
        found.append(Version(f"Before: {label}", piece.head.parent_id, "before"))
    if step in {one.id for _, one in piece.document.steps()}:
        found.append(Version("This step off", piece.head_id, "off", step))
    found.append(Version("All treatments off", piece.head_id, "off", "treatments"))
    rows = [("direction", one) for one in piece.directions.select_related("state")]
    rows += [("pin", one) for one in piece.pins.here().select_related("state")]
    now = piece.head.digest
    return found + [
        Version(one.name, one.state_id, role, same=one.state.digest == now) for role, one in rows
    ]


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


def change_words(found: Difference) -> str:
    """How much of what is shown changed."""
    if found.share == 0:
        return "No pixel shown here changed."
    share = f"{100 * found.share:.0f} %" if found.share >= 0.01 else "Less than 1 %"
    mean, most = (max(round(255 * one), 1) for one in (found.mean, found.most))
    levels = "level" if mean == 1 else "levels"
    return f"{share} of the pixels shown changed, by {mean} {levels} on average, {most} at most."
