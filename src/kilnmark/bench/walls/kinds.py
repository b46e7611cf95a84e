"""Walls of live alternatives for one choice, on the piece itself. A kind more is a module and its
line here.
"""

from kilncore.errors import KilnError
from kilnmark.bench.walls.base import Candidate, Candidates, Choice
from kilnmark.bench.walls.looks import looks
from kilnmark.bench.walls.modes import modes
from kilnmark.bench.walls.placements import found_places, placements
from kilnmark.bench.walls.steps import next_steps, seeds
from kilnmark.bench.walls.textures import pairs, textures

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
