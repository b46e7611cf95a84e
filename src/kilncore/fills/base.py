"""What a fill is, and how one is added.

A fill is one module: a frozen settings model with its `kind`, whose `node(area)` is the node that
draws it everywhere. Register it with `@fill(...)` and name the module in `fills/__init__.py`. Its
form is drawn from its settings. The ground of a piece is filled, and so is art that has one colour.
"""

from dataclasses import dataclass
from typing import ClassVar

from kilncore.geometry.affine import Affine
from kilncore.graph.node import Node
from kilncore.model.base import Model
from kilncore.model.frame import Frame
from kilncore.model.registry import Registry

GROUND, ART = "ground", "art"


@dataclass(frozen=True)
class Area:
    """What is filled. frame : in which textures lie. box : from shares of its box, -0.5 to 0.5 each
    way from its middle, to output px, as it would lie flat.
    """

    frame: Frame
    box: Affine

    @classmethod
    def of_page(cls, frame: Frame) -> "Area":
        """All of the page, of its own frame."""
        page, scale = frame.of_page, frame.scale
        wide, tall = frame.page_width_px * scale, frame.page_height_px * scale
        return cls(frame, Affine(wide, 0, 0, tall, page.x * scale, page.y * scale))


class Fill(Model):
    """The settings of a fill. surface : whether it has tones of its own that marks can lie in.
    of_beneath : whether it is what lies beneath the mark, and has no node of its own.
    """

    surface: ClassVar[bool] = False
    of_beneath: ClassVar[bool] = False
    kind: str

    def node(self, area: Area) -> Node:
        """What draws it, everywhere."""
        raise NotImplementedError


@dataclass(frozen=True)
class FillKind:
    """title : as it is chosen. summary : in two or three words. fills : what it is offered for:
    GROUND, ART.
    """

    name: str
    title: str
    summary: str
    settings: type[Fill]
    fills: tuple[str, ...] = (GROUND, ART)


FILLS = Registry("a fill")
fill = FILLS.decorator(FillKind, "settings")
