"""What a fill is, and how one is added.

A fill is one module: a frozen settings model with its `kind`, whose `node(frame)` is the node that
draws it everywhere. Register it with `@fill(...)` and name the module in `fills/__init__.py`. Its
form is drawn from its settings.
"""

from dataclasses import dataclass
from typing import ClassVar

from kilncore.graph.node import Node
from kilncore.model.base import Model
from kilncore.model.frame import Frame
from kilncore.model.registry import Registry


class Fill(Model):
    """The settings of a fill. surface : whether it has tones of its own that marks can lie in."""

    surface: ClassVar[bool] = False
    kind: str

    def node(self, frame: Frame) -> Node:
        """What draws it. frame : of the piece."""
        raise NotImplementedError


@dataclass(frozen=True)
class FillKind:
    """title : as it is chosen. summary : in two or three words."""

    name: str
    title: str
    summary: str
    settings: type[Fill]


FILLS = Registry("a fill")
fill = FILLS.decorator(FillKind, "settings")
