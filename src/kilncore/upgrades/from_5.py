"""Textures are prepared where they are used, by a chain of operations: at first by none."""

from kilncore.graph.protocols import Assets


def upgraded(tree: dict, assets: Assets | None) -> dict:
    """A document of format 6."""
    return {**tree, "format": 6}
