"""What was done to a piece: all its states, the newest first, grouped by sitting. Nothing is cut
off: states that were undone and left stand there too.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import timedelta
from itertools import pairwise

from kilnmark.pieces.models import Piece, State

PAUSE = timedelta(minutes=30)  # a longer one ends a sitting


@dataclass(frozen=True)
class Sitting:
    """States of one sitting, the newest first."""

    states: list[State]

    @property
    def began(self):
        """When its first state was made."""
        return self.states[-1].made


def sittings(piece: Piece) -> list[Sitting]:
    """The newest first. States are read without their documents: there may be thousands."""
    states = list(piece.states.defer("compressed").order_by("-made", "-pk"))
    return [Sitting(group) for group in _grouped(states)] if states else []


def _grouped(states: list[State]) -> Iterator[list[State]]:
    group = [states[0]]
    for later, earlier in pairwise(states):
        if later.made - earlier.made > PAUSE:
            yield group
            group = []
        group.append(earlier)
    yield group
