"""Items can be set in perspective, and a piece can tell how large its surface is: both are new, and
older documents have neither.
"""

from kilncore.graph.protocols import Assets


def upgraded(tree: dict, assets: Assets | None) -> dict:
    """A document of format 8."""
    return {**tree, "format": 8}
