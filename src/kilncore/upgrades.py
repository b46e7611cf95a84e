"""Older documents: UPGRADES[n] brings the JSON tree of format n to format n + 1. What it held within itself and is a file now,
the assets keep."""

from kilncore.errors import KilnError
from kilncore.strokes import Stroke, file_of


def _from_1(tree: dict, assets) -> dict:
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


def _from_2(tree: dict, assets) -> dict:
    """Strokes of touch-up became files."""
    return {**_strokes(tree, assets), "format": 3}


def _strokes(node, assets):
    if isinstance(node, list):
        return [_strokes(child, assets) for child in node]
    if not isinstance(node, dict):
        return node
    node = {key: _strokes(value, assets) for key, value in node.items()}
    if isinstance(node.get("touch"), list):
        node["touch"] = [_kept(stroke, assets) if isinstance(stroke, dict) else stroke for stroke in node["touch"]]
    return node


def _kept(stroke: dict, assets) -> str:
    if assets is None:
        raise KilnError("This piece has touch-up from an older Kilnmark. Open it where its files can be kept.")
    return assets.keep(file_of(Stroke.model_validate(stroke)))


UPGRADES = {1: _from_1, 2: _from_2}
