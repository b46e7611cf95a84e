"""What of a stack reaches into a box: the same pixels there, made of fewer items.

A step that reads what lies beneath its mark reads it where the mark is. What else lies on the piece
does not count for it, and is no part of its key: it stays as it was while other marks change.
"""

from dataclasses import replace
from typing import Any

from kilncore.engine.nodes import Landed
from kilncore.geometry.box import Box
from kilncore.graph.node import Node
from kilncore.pixels.pixel_format import PixelFormats

CROWD = 12  # items from which on it pays to draw a box of a stack without those elsewhere


def near(stack: Node, box: Box) -> Node:
    """A stack without the items that do not reach into a box of output px; the stack itself, if all
    of them do.
    """
    chain, under = _chain(stack)
    for landed in reversed(chain):
        if landed.item.extent.intersection(box).empty:
            continue
        under = landed if landed.canvas is under else replace(landed, canvas=under)
    return under


def crowd_near(stack: Node, box: Box, assets: Any) -> Node:
    """The same of a stack of many items on an opaque ground; else the stack itself. Elsewhere
    formats could differ by what lies beside the box.
    """
    chain, under = _chain(stack)
    if len(chain) < CROWD or PixelFormats(assets).of(under).alpha:
        return stack
    return near(stack, box)


def _chain(stack: Node) -> tuple[list[Landed], Node]:
    """(the items as they land, the last first, what they land on)."""
    chain, under = [], stack
    while isinstance(under, Landed):
        chain.append(under)
        under = under.canvas
    return chain, under
