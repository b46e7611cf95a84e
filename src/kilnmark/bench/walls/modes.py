"""All blend modes."""

from kilncore.blending.modes import BLEND_MODES
from kilnmark.bench.walls.base import Candidate, Choice, setting


def modes(choice: Choice) -> list[Candidate]:
    """At the path of a mode."""
    now = choice.now
    if choice.path[-1:] != ["mode"] or now not in BLEND_MODES:
        raise choice.gone()
    return [
        Candidate(mode.title, (setting(choice.path, name),), name == now)
        for name, mode in BLEND_MODES.items()
    ]
