"""Walls of live alternatives for one choice, on the piece itself. A kind more is a module and its
line here.
"""

from kilncore.errors import KilnError
from kilnmark.bench.tryouts.base import Candidate, Candidates, Choice
from kilnmark.bench.tryouts.looks import looks
from kilnmark.bench.tryouts.modes import modes
from kilnmark.bench.tryouts.placements import found_places, placements
from kilnmark.bench.tryouts.steps import next_steps, seeds
from kilnmark.bench.tryouts.textures import pairs, textures
from kilnmark.bench.tryouts.wall import unsorted, wall

__all__ = ["GRADUAL", "KINDS", "Choice", "candidates_of", "unsorted", "wall"]

KINDS: dict[str, Candidates] = {
    "modes": modes,
    "placements": placements,
    "found": found_places,
    "textures": textures,
    "pairs": pairs,
    "steps": next_steps,
    "seeds": seeds,
    "looks": looks,
}
GRADUAL = frozenset(
    {"looks", "textures", "pairs"}
)  # drawn card by card before they are put in order


def candidates_of(kind: str, choice: Choice) -> list[Candidate]:
    """All that there are to try; KilnError if there is nothing."""
    if kind not in KINDS:
        raise KilnError(f"There are try-outs of: {', '.join(KINDS)}.", kind)
    return KINDS[kind](choice)
