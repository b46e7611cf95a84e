"""A mark's frame starts at its first baseline, in type sizes; blend ranges have the names that
people use.

The frame of lettering was its middle and its height: the shift says so, and everything stays where
it was.
"""

from kilncore.artwork.lettering import Lettering
from kilncore.graph.protocols import Assets
from kilncore.upgrades.trees import walked

RANGES = {"gate_own": "range_own", "gate_input": "range_input", "gate_beneath": "range_beneath"}
ONE_INCH = 96.0  # any ppi, and any height of a piece: the shift is told in type sizes


def upgraded(tree: dict, assets: Assets | None) -> dict:
    """A document of format 4."""
    return {**walked(tree, _changed), "format": 4}


def _changed(node: dict) -> dict:
    node = {RANGES.get(key, key): value for key, value in node.items()}
    art = node.get("art")
    if isinstance(art, dict) and art.get("kind") == "lettering":
        node["frame"] = _as_it_was(Lettering.model_validate(art))
    return node


def _as_it_was(art: Lettering) -> dict:
    _, height = art.box_px(ONE_INCH, ONE_INCH)
    x, y, unit = art.frame_px(ONE_INCH, ONE_INCH)
    return {"x": -x / unit, "y": -y / unit, "unit": min(max(height / unit, 1e-3), 1e4)}
