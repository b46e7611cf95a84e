"""Strokes of touch-up."""

from typing import Any

from kilncore.edits.operation import Path, operation
from kilncore.edits.tree import at
from kilncore.errors import KilnError
from kilncore.strokes import Stroke, added


@operation
def add_stroke(tree: Any, path: Path, stroke: dict, assets: Any):
    """One more stroke of touch-up on the landing at that path; its file is kept by the assets."""
    landing = at(tree, path)
    if assets is None or path[-1] != "landing":
        raise KilnError("A stroke is laid on a landing, and kept as a file.", str(path))
    landing["touch"] = added(landing["touch"], Stroke.model_validate(stroke), assets)
