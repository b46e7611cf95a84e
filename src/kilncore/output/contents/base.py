"""What can be drawn into a file, and how more is added.

One of them is one module: a settings model and a function of (piece, settings) that returns the
pictures to draw at scale 1. Register it with `@content(...)` and name the module in
`contents/__init__.py`.
"""

from collections.abc import Callable
from dataclasses import dataclass

from kilncore.geometry.box import Box
from kilncore.graph.node import Node
from kilncore.model.base import Model
from kilncore.model.registry import Registry


@dataclass(frozen=True)
class Picture:
    """What one file shows. name : of the file among several. box : of the node's px, all within
    the page.
    """

    name: str
    node: Node
    box: Box


@dataclass(frozen=True)
class Content:
    """title, sentence : as it is offered. several : whether it is files of their own, in a zip.
    pictures : (piece, settings) -> [Picture, ...], one where it is not several.
    """

    name: str
    title: str
    settings: type[Model]
    pictures: Callable
    sentence: str = ""
    several: bool = False


CONTENTS = Registry("what is fired")
content = CONTENTS.decorator(Content, "pictures")
