"""What can be drawn into a file, and how more is added.

One of them is one module: a settings model and a function of (piece, settings) that returns the
node to draw at scale 1. Register it with `@content(...)` and name the module in
`contents/__init__.py`.
"""

from collections.abc import Callable
from dataclasses import dataclass

from kilncore.model.base import Model
from kilncore.model.registry import Registry


@dataclass(frozen=True)
class Content:
    """node : (piece, settings) -> the node whose picture is written."""

    name: str
    title: str
    settings: type[Model]
    node: Callable


CONTENTS = Registry("what is fired")
content = CONTENTS.decorator(Content, "node")
