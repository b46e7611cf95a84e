"""Which step to add next, and seeds of a step."""

from kilncore.document import Step, sort_of
from kilncore.steps import STEPS
from kilnmark.bench.walls.base import Candidate, Choice

SEEDS_APART = 104_729


def next_steps(choice: Choice) -> list[Candidate]:
    """Each kind of step that can treat the part, as it begins: at the end of a treatment, or after
    the step that the path ends with.
    """
    path, place = list(choice.path), None
    if path[-2:-1] == ["treatment"]:
        place = choice.at(path[:-1]).index(choice.now) + 1
        path.pop()
    if path[-1:] != ["treatment"] or not isinstance(choice.at(path), tuple):
        raise choice.gone()
    part = path[-2] if len(path) > 1 else "piece"
    return [
        Candidate(kind.title, ({"op": "add_step", "part": part, "kind": name, "at": place},))
        for name, kind in STEPS.items()
        if sort_of(part) in kind.offered_for
    ]


def seeds(choice: Choice) -> list[Candidate]:
    """Nine seeds of a step, the present one first."""
    now, step = choice.now, choice.at(choice.path[:-1])
    seeded = isinstance(step, Step) and choice.path[-1] == "seed"
    if not seeded or not STEPS.named(step.kind).seeded:
        raise choice.gone()
    return [
        Candidate(
            f"seed {n + 1}" if n else "as it is",
            ({"op": "seed_step", "step": step.id, "seed": (now + n * SEEDS_APART) % 2**31},),
            not n,
        )
        for n in range(9)
    ]
