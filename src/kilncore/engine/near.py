"""What of a stack reaches into a box: the same pixels there, made of fewer items.

A step that reads what lies beneath its mark reads it where the mark is. What else lies on the piece
does not count for it, and is no part of its key: it stays as it was while other marks change.
"""

from dataclasses import replace

from kilncore.engine.nodes import Landed
from kilncore.geometry.box import Box
from kilncore.graph.node import Node


def near(stack: Node, box: Box) -> Node:
    """A stack without the items that do not reach into a box of output px; the stack itself, if all
    of them do.
    """
    chain, under = [], stack
    while isinstance(under, Landed):
        chain.append(under)
        under = under.canvas
    for landed in reversed(chain):
        if landed.item.extent.intersection(box).empty:
            continue
        under = landed if landed.canvas is under else replace(landed, canvas=under)
    return under
