"""Groups and all of a landing are new; a texture's `tiles` became `edges`."""

from kilncore.graph.protocols import Assets
from kilncore.upgrades.trees import walked


def upgraded(tree: dict, assets: Assets | None) -> dict:
    """A document of format 2."""
    return {
        **walked(tree, _edges),
        "format": 2,
        "stack": [{"kind": "mark", **walked(mark, _edges)} for mark in tree.get("stack", [])],
    }


def _edges(node: dict) -> dict:
    if "hash" in node and "tiles" in node:
        node["edges"] = "repeat" if node.pop("tiles") else "mirror"
    return node
