"""Which step to add next, and seeds of a step."""

from kilncore.document import Step
from kilncore.steps import STEPS
from kilnmark.bench.tryouts.base import Candidate, Choice

SEEDS_APART = 104_729


def next_steps(choice: Choice) -> list[Candidate]:
    """Each kind of step, as it begins, at the end of a treatment."""
    if choice.path[-1:] != ["treatment"] or not isinstance(choice.now, tuple):
        raise choice.gone()
    part = choice.path[-2] if len(choice.path) > 1 else "piece"
    return [
        Candidate(kind.title, ({"op": "add_step", "part": part, "kind": name},))
        for name, kind in STEPS.items()
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
