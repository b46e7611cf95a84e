"""Older documents: UPGRADES[n] brings the JSON tree of format n to format n + 1."""


def _from_1(tree: dict) -> dict:
    """Groups and all of a landing are new; a texture's `tiles` became `edges`."""
    return {**_edges(tree), "format": 2, "stack": [{"kind": "mark", **_edges(mark)} for mark in tree.get("stack", [])]}


def _edges(node):
    if isinstance(node, list):
        return [_edges(child) for child in node]
    if not isinstance(node, dict):
        return node
    node = {key: _edges(value) for key, value in node.items()}
    if "hash" in node and "tiles" in node:
        node["edges"] = "repeat" if node.pop("tiles") else "mirror"
    return node


UPGRADES = {1: _from_1}
