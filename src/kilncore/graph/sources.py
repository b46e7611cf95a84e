"""What lies around a step or a landing: the nodes that its planes may be made of."""

from collections.abc import Callable
from dataclasses import dataclass

from kilncore.geometry.box import Box
from kilncore.graph.node import Node
from kilncore.model.frame import Frame


@dataclass(frozen=True)
class Sources:
    """input : what the step treats, or what an item lands on. beneath : what lies beneath the item.
    bare : the bare art (of a ground or piece, what its treatment begins with), carried along by the
    moves before the step. frame : of the item.

    whole : the box over which whole-item values are read: the item's treated extent, or the page.
    mark : the bare art of a mark by its id. measured : the same at the scale at which whole items
    are measured: 1, or for drafts their own or smaller. full_size : the same at scale 1. variance :
    of the tones that a draft's pixels of a picture stand for. page_px : the piece's size. outline
    : what has the input's alpha and depends on no colours that do not matter for it. ground : the
    ground alone, treated. local : a key of what of a stack reaches into a box. strength : of the
    step's landing.
    """

    input: Node
    beneath: Node
    bare: Node
    frame: Frame
    whole: Box
    mark: Callable[[str], Node]
    measured: Callable[[], "Sources"]
    full_size: Callable[[], "Sources"]
    variance: Callable[[Node], Node]
    page_px: tuple[int, int] = (0, 0)
    outline: Node | None = None
    ground: Callable[[], Node] | None = None
    local: Callable[[Node, Box], tuple] | None = None
    strength: float = 1.0
