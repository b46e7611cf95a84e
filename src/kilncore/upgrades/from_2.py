"""Strokes of touch-up became files, which the assets keep."""

from typing import Any

from kilncore.errors import KilnError
from kilncore.graph.protocols import Assets
from kilncore.strokes import Stroke, file_of
from kilncore.upgrades.trees import walked


def upgraded(tree: dict, assets: Assets | None) -> dict:
    """A document of format 3."""

    def with_files(node: dict) -> dict:
        if isinstance(node.get("touch"), list):
            node["touch"] = [
                _kept(stroke, assets) if isinstance(stroke, dict) else stroke
                for stroke in node["touch"]
            ]
        return node

    return {**walked(tree, with_files), "format": 3}


def _kept(stroke: dict, assets: Any) -> str:
    if assets is None:
        raise KilnError(
            "This piece has touch-up from an older Kilnmark. Open it where its files can be kept."
        )
    return assets.keep(file_of(Stroke.model_validate(stroke)))
