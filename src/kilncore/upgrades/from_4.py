"""Marks and groups can be locked and left out, groups lie in groups, the page has a frame and a
backdrop, lettering has axes and features: all of it begins as it was.
"""

from kilncore.graph.protocols import Assets


def upgraded(tree: dict, assets: Assets | None) -> dict:
    """A document of format 5."""
    return {**tree, "format": 5}
