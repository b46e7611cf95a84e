"""Of each sort of tones several blend ranges can hold: what was one of each is a list. A landing
itself reads what it was before, as recipes hold it too.
"""

from kilncore.graph.protocols import Assets


def upgraded(tree: dict, assets: Assets | None) -> dict:
    """A document of format 7."""
    return {**tree, "format": 7}
